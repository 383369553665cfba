import { Printer } from 'lucide-react'
import { live, mayIssueReport, sheetOf, type Sheet, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { newId } from '../store/database.js'
import { useOutbox, useWriter } from '../store/visit.js'
import { useDiagnosis } from '../workers/heart.js'
import { sayDay } from '../words/format.js'

/** The sheet itself: as it would be issued, or as it was. */
export function HandOver({ file, shop }: { file: VisitFile; shop: Shop }) {
  // what was found is what the baseline says
  const { diagnosis } = useDiagnosis(file, 0)
  const { write } = useWriter(file)
  const { writes } = useOutbox()
  const issued = live(file.reports).at(-1)
  const gate = mayIssueReport(file)
  const refused = writes.find((w) => w.noun === 'reports' && w.visitId === file.visit.id && w.state === 'refused')
  if (!diagnosis) return <div className="bench progress" role="progressbar" aria-label="working it out" />
  const sheet = (issued?.sheet as Sheet | undefined) ?? sheetOf(file, diagnosis, shop.labourPerHour)
  return (
    <div className="bench hand-over">
      <Paper sheet={sheet} shop={shop} number={issued?.number} issuedAt={issued?.issuedAt} />
      <aside className="no-print">
        {!gate.ok &&
          gate.refusals.map((r) => (
            <p key={r.message} className="wrong">
              {r.message}
            </p>
          ))}
        {refused && <p className="wrong">{refused.problem}</p>}
        <button
          type="button"
          className="act strong"
          disabled={!gate.ok}
          onClick={() => write('reports', `${file.visit.id}:sheet:${newId()}`, { visitId: file.visit.id })}
        >
          {issued ? 'issue an amendment' : 'issue the sheet'}
        </button>
        <button type="button" className="act" onClick={() => print()}>
          <Printer size={22} aria-hidden /> print
        </button>
        {issued?.receivedAt && (
          <a
            className="act"
            href={`/api/reports/${encodeURIComponent(issued.id)}/pdf`}
            target="_blank"
            rel="noreferrer"
          >
            PDF
          </a>
        )}
        <a
          className="act"
          href={`/api/visits/${encodeURIComponent(file.visit.id)}`}
          download={`${file.vehicle.plate}.uvula-visit.json`}
        >
          visit as a file
        </a>
        <p className="soft small">
          {issued
            ? 'An issued sheet stays as it is; a later word is an amendment.'
            : 'Issued, it closes the visit. Print works from here too.'}
        </p>
      </aside>
    </div>
  )
}

function Paper({ sheet: s, shop, number, issuedAt }: { sheet: Sheet; shop: Shop; number?: number; issuedAt?: string }) {
  return (
    <article className="paper" aria-label="sheet">
      <header>
        <span>{shop.name}</span>
        <span>{number ? `sheet ${number}, ${sayDay(issuedAt!)}` : 'not issued yet'}</span>
      </header>
      <h2>{s.title}</h2>
      <p className="small">
        {[s.plate, s.customer, s.engine, s.odometerKm ? `${s.odometerKm.toLocaleString('en')} km` : '', s.place]
          .filter(Boolean)
          .join(' · ')}
      </p>
      <p className="paper-plain">{s.plain}</p>
      <List title="came with" lines={[s.complaint].filter(Boolean)} />
      <List title="found" lines={s.found} />
      <List title="done" lines={s.done} />
      <List title="left" lines={s.left} />
      <List title="advised" lines={s.advised} />
      {s.changes.length > 0 && (
        <table>
          <caption className="soft small">before and after, same points</caption>
          <tbody>
            {s.changes.map((c) => (
              <tr key={`${c.kind}${c.rpm}${c.quantity}`}>
                <th scope="row">
                  {c.label}, {c.kind}
                </th>
                <td className="fig">{c.before.toFixed(1)}</td>
                <td className="fig">{c.after.toFixed(1)}</td>
                <td>{c.unit}</td>
                <td>{c.verdict}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <footer className="fig">
        labour {s.labourMinutes} min {s.labourPrice.toFixed(2)} · parts {s.partsPrice.toFixed(2)} · together{' '}
        {(s.labourPrice + s.partsPrice).toFixed(2)} {shop.currency}
      </footer>
    </article>
  )
}

function List({ title, lines }: { title: string; lines: readonly string[] }) {
  if (!lines.length) return null
  return (
    <section>
      <h3 className="soft small">{title}</h3>
      {lines.map((l) => (
        <p key={l}>{l}</p>
      ))}
    </section>
  )
}
