import { Printer } from 'lucide-react'
import {
  lastRound,
  live,
  mayIssueReport,
  sheetOf,
  UNPROVED_SAID,
  type Sheet,
  type VisitFile,
  type Change,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Working } from '../../kit/Working.js'
import { newId } from '../../store/database.js'
import { useNow } from '../../parts/Timers.js'
import { useOutbox, useWriter } from '../../store/visit.js'
import { useDiagnosis } from '../../workers/heart.js'
import { sayDay } from '../../words/format.js'

/** The sheet itself: as it would be issued, or as it was. */
export function HandOver({ file, shop }: { file: VisitFile; shop: Shop }) {
  // what was found is what the baseline says
  const { diagnosis } = useDiagnosis(file, 0)
  const { diagnosis: now } = useDiagnosis(file, lastRound(file))
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const issued = live(file.reports).at(-1)
  const gate = mayIssueReport(file, useNow(1000))
  const refused = writes.find((w) => w.noun === 'reports' && w.visitId === file.visit.id && w.state === 'refused')
  if (!diagnosis || !now) return <Working label="working it out" />
  const sheet = (issued?.sheet as Sheet | undefined) ?? sheetOf(file, diagnosis, shop.labourPerHour, now)
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_210px] narrow:px-14 narrow:py-10 narrow:grid-cols-1 print:p-0 print:block">
      <Paper sheet={sheet} shop={shop} number={issued?.number} issuedAt={issued?.issuedAt} />
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
            href={`/api/reports/${encodeURIComponent(issued.id)}/pdf`}
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

/** A point of the comparison in words: a held one by its speed. */
const pointWords = (c: Change): string =>
  c.kind === 'hold' || c.kind === 'cruise'
    ? `${c.kind === 'hold' ? 'held' : 'cruise'} at ${(Math.round(c.rpm / 100) * 100).toFixed(0)}`
    : c.kind.replace('-', ', ')

function Paper({ sheet: s, shop, number, issuedAt }: { sheet: Sheet; shop: Shop; number?: number; issuedAt?: string }) {
  const banks = s.changes.some((c) => c.label.includes('bank 2'))
  return (
    <article
      className="px-26 py-18 border-2 border-ink max-w-820 narrow:px-14 narrow:py-12 print:border-0 print:max-w-[none]"
      aria-label="sheet"
    >
      <header className="flex justify-between">
        <span>{shop.name}</span>
        <span>{number ? `sheet ${number}, ${sayDay(issuedAt!)}` : 'not issued yet'}</span>
      </header>
      <h2 className="text-figure font-semibold leading-tight">{s.title}</h2>
      <p className="text-small">
        {[s.plate, s.customer, s.engine, s.odometerKm ? `${s.odometerKm.toLocaleString('en')} km` : '', s.place]
          .filter(Boolean)
          .join(' · ')}
      </p>
      <p className="mx-0 my-10 text-lead leading-normal">{s.plain}</p>
      <List title="came with" lines={[s.complaint, ...(s.codes ?? [])].filter(Boolean)} />
      <List title="found" lines={s.found} />
      <List title="done" lines={s.done} />
      <List title="left" lines={s.left} />
      <List title="advised" lines={s.advised} />
      <List title="its warm idle as it leaves" lines={s.judged ?? []} />
      <List title="what a decarbonizing service could bring" lines={s.gain ?? []} />
      {s.changes.length > 0 && (
        <table className="mt-8 w-full border-collapse">
          <caption className="text-left text-soft text-small">before and after, same points</caption>
          <tbody>
            {s.changes.map((c) => (
              <tr key={`${c.kind}${c.rpm}${c.quantity}`}>
                <th className="pr-8 pl-0 py-2 border-t border-t-line text-left [font-weight:inherit]" scope="row">
                  {banks ? c.label : c.label.replace(', bank 1', '')}, {pointWords(c)}
                </th>
                <td className="fig pr-8 pl-0 py-2 border-t border-t-line text-right text-lead">
                  {c.before.toFixed(1)}
                </td>
                <td className="fig pr-8 pl-0 py-2 border-t border-t-line text-right text-lead">{c.after.toFixed(1)}</td>
                <td className="pr-8 pl-0 py-2 border-t border-t-line">{c.unit}</td>
                <td className="pr-8 pl-0 py-2 border-t border-t-line">{c.verdict}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <List title="all points together" lines={s.proved ?? []} />
      <footer className="fig pt-6 mt-10 border-t-2 border-t-ink flex justify-end text-name">
        labour {s.labourMinutes} min {s.labourPrice.toFixed(2)} · parts {s.partsPrice.toFixed(2)} · together{' '}
        {(s.labourPrice + s.partsPrice).toFixed(2)} {shop.currency}
      </footer>
    </article>
  )
}

function List({ title, lines }: { title: string; lines: readonly string[] }) {
  if (!lines.length) return null
  return (
    <section className="mt-6">
      <h3 className="text-soft text-small">{title}</h3>
      {lines.map((l) => (
        <p key={l}>{l}</p>
      ))}
    </section>
  )
}
