import { Printer } from 'lucide-react'
import { useMemo, useState } from 'react'
import {
  lastRound,
  live,
  mayIssueReport,
  sheetInUnits,
  sheetOf,
  unitsToText,
  UNPROVED_SAID,
  type Diagnosis,
  type Sheet,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Working } from '../../kit/Working.js'
import { newId } from '../../store/database.js'
import { useNow } from '../../parts/Timers.js'
import { useSettings } from '../../store/settings.js'
import { useOutbox, useWriter } from '../../store/visit.js'
import { useDiagnosis } from '../../workers/heart.js'
import { Views } from '../../kit/Views.js'
import { Paper } from './Paper.js'
import { Quote } from './Quote.js'

/** The quote before the work, and the sheet after it: as it would be issued, or as it was. */
export function HandOver({ file, shop }: { file: VisitFile; shop: Shop }) {
  // what was found is what the baseline says
  const { diagnosis } = useDiagnosis(file, 0)
  const { diagnosis: now } = useDiagnosis(file, lastRound(file))
  const [view, setView] = useState<'sheet' | 'quote'>('sheet')
  if (!diagnosis || !now) return <Working label="working it out" />
  return (
    <div className="bench px-gap py-8 narrow:px-14 print:p-0">
      <Views
        label="hand over"
        value={view}
        onChange={setView}
        views={[
          {
            value: 'sheet',
            label: 'the sheet',
            body: <SheetBench file={file} shop={shop} diagnosis={diagnosis} now={now} />,
          },
          { value: 'quote', label: 'the quote', body: <Quote file={file} shop={shop} diagnosis={now} /> },
        ]}
      />
    </div>
  )
}

/** The sheet, and what is done with it. */
function SheetBench({
  file,
  shop,
  diagnosis,
  now,
}: {
  file: VisitFile
  shop: Shop
  diagnosis: Diagnosis
  now: Diagnosis
}) {
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const issued = live(file.reports).at(-1)
  const gate = mayIssueReport(file, useNow(1000))
  const refused = writes.find((w) => w.noun === 'reports' && w.visitId === file.visit.id && w.state === 'refused')
  const { units } = useSettings()
  // what confirms may be weighed anew: once a change, and not with every second
  const composed = useMemo(
    () => (issued?.sheet as Sheet | undefined) ?? sheetOf(file, diagnosis, shop.labourPerHour, now, shop.taxPct),
    [file, diagnosis, now, issued, shop.labourPerHour, shop.taxPct],
  )
  const sheet = sheetInUnits(composed, units)
  const inUnits = unitsToText(units)
  return (
    <div className="gap-28 grid grid-cols-[minmax(0,1fr)_210px] py-8 narrow:grid-cols-1 print:p-0 print:block">
      <Paper sheet={sheet} shop={shop} number={issued?.number} issuedAt={issued?.issuedAt} photos={live(file.photos)} />
      <aside className="gap-10 flex flex-col print:hidden">
        {!gate.ok &&
          gate.refusals.map((r) => (
            <p key={r.message} className="wrong">
              {r.message}
            </p>
          ))}
        {!gate.ok && gate.refusals.some((r) => r.rule === 'prove-first') && (
          <button
            type="button"
            className="act justify-center"
            onClick={() =>
              write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: UNPROVED_SAID })
            }
          >
            without proof: the sheet says so
          </button>
        )}
        {refused && <p className="wrong">{refused.problem}</p>}
        <button
          type="button"
          className="act strong justify-center"
          disabled={!gate.ok}
          onClick={() => write('reports', `${file.visit.id}:sheet:${newId()}`, { visitId: file.visit.id })}
        >
          {issued ? 'issue an amendment' : 'issue the sheet'}
        </button>
        <button type="button" className="act justify-center" onClick={() => print()}>
          <Printer size={22} aria-hidden /> print
        </button>
        {issued?.receivedAt && (
          <a
            className="act justify-center"
            href={`/api/reports/${encodeURIComponent(issued.id)}/pdf${inUnits ? `?units=${encodeURIComponent(inUnits)}` : ''}`}
            target="_blank"
            rel="noreferrer"
          >
            PDF
          </a>
        )}
        <a
          className="act justify-center"
          href={`/api/visits/${encodeURIComponent(file.visit.id)}`}
          download={`${file.vehicle.plate}.uvula-visit.json`}
        >
          visit as a file
        </a>
        <p className="text-soft text-small">
          {issued
            ? 'An issued sheet stays as it is; a later word is an amendment.'
            : 'Issued, it closes the visit. Print works from here too.'}
        </p>
      </aside>
    </div>
  )
}
