import { useState } from 'react'
import {
  AGREED_HOW,
  agreedProblem,
  linesByNow,
  live,
  missCost,
  proposedLines,
  quoteOf,
  quoteProblem,
  totalsOf,
  type Agreed,
  type Diagnosis,
  type QuoteLine,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Plus } from 'lucide-react'
import { Choose } from '../../kit/Choose.js'
import { Tick } from '../../kit/Tick.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { sayDay, sayTime } from '../../words/format.js'
import { QuoteRow } from './QuoteRow.js'
import { shopIso } from '../../store/clock.js'
import { LAST_LINE, WORK } from './words.js'

const EMPTY: readonly QuoteLine[] = []

/** What is offered before it is done: each line with its chance to be the cure and what a miss costs; agreed by whom, when and how. */
export function Quote({ file, shop, diagnosis }: { file: VisitFile; shop: Shop; diagnosis: Diagnosis }) {
  const { write } = useWriter(file)
  const kept = quoteOf(file)
  const lines = kept?.lines ?? EMPTY
  const [problem, setProblem] = useState<string>()
  const rate = kept?.labourPerHour ?? shop.labourPerHour
  const taxPct = kept?.taxPct ?? shop.taxPct ?? 0
  const totals = totalsOf(lines, rate, taxPct)
  const dearest = Math.max(1, ...lines.map((l) => totalsOf([{ ...l, kind: 'remedy' }], rate, 0).total))
  const keep = (next: readonly QuoteLine[], agreed: Agreed | null = null): void => {
    const wrong = quoteProblem(next) ?? agreedProblem(agreed, next)
    setProblem(wrong)
    if (wrong) return
    write('quotes', kept?.id ?? `${file.visit.id}:quote`, {
      visitId: file.visit.id,
      lines: next,
      labourPerHour: rate,
      taxPct,
      agreed,
    })
  }
  const byNow = kept && !kept.agreed && !live(file.reports).length ? linesByNow(file, diagnosis, lines) : undefined
  const change = (line: QuoteLine): void => keep(lines.map((l) => (l.id === line.id ? line : l)))
  const another = (kind: QuoteLine['kind']): void =>
    keep([
      ...lines,
      {
        id: newId(),
        kind,
        words: kind === 'elsewhere' ? 'part offered elsewhere' : 'work',
        minutes: kind === 'elsewhere' ? 0 : 30,
        parts: kind === 'elsewhere' ? [{ name: 'part', price: 0 }] : [],
      },
    ])
  if (!kept && live(file.reports).length)
    return (
      <p className="py-14 text-lead text-soft">
        No quote was made: the sheet is issued, and a quote comes before the work.
      </p>
    )
  if (!kept)
    return (
      <div className="max-w-640 py-14">
        <p className="text-lead">
          Nothing is offered yet. A quote says beforehand what each step costs, how likely it is the cure, and what it
          costs if it is not; what is not agreed to is not done.
        </p>
        <button
          type="button"
          className="act strong mt-14"
          onClick={() => keep(proposedLines(file, diagnosis).length ? proposedLines(file, diagnosis) : [WORK])}
        >
          make a quote from what is known
        </button>
        {problem && (
          <p className="wrong" role="alert">
            {problem}
          </p>
        )}
      </div>
    )
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_270px] gap-28 py-8 narrow:grid-cols-1">
      <section aria-label="quote">
        <ol>
          {lines.map((l, i) => (
            <QuoteRow
              key={l.id}
              n={i + 1}
              line={l}
              price={totalsOf([{ ...l, kind: 'remedy' }], rate, 0).total}
              miss={missCost(l, rate)}
              dearest={dearest}
              currency={shop.currency}
              onChange={change}
              onRemove={() => (lines.length > 1 ? keep(lines.filter((x) => x.id !== l.id)) : setProblem(LAST_LINE))}
            />
          ))}
        </ol>
        {problem && (
          <p className="wrong" role="alert">
            {problem}
          </p>
        )}
        <div className="mt-8 flex flex-wrap gap-8">
          <button type="button" className="act" onClick={() => another('remedy')}>
            <Plus size={20} aria-hidden /> work
          </button>
          <button type="button" className="act" onClick={() => another('elsewhere')}>
            <Plus size={20} aria-hidden /> a part offered elsewhere
          </button>
          {byNow && (
            <button type="button" className="act" onClick={() => keep(byNow)}>
              bring it up to what is known now
            </button>
          )}
        </div>
        <p className="fig mt-12 border-t-2 border-t-ink pt-6 text-right text-name">
          labour {totals.minutes} min {totals.labour.toFixed(2)} · parts {totals.parts.toFixed(2)}
          {taxPct > 0 && ` · tax ${taxPct} % ${totals.tax.toFixed(2)}`} · if all of it is done {totals.total.toFixed(2)}{' '}
          {shop.currency}
        </p>
      </section>
      <Agreement
        key={kept.version}
        lines={lines}
        agreed={kept.agreed ?? undefined}
        onAgree={(agreed) => keep(lines, agreed)}
      />
    </div>
  )
}

/** Who agreed to which lines; a line changed afterwards has to be agreed to again. */
function Agreement({
  lines,
  agreed,
  onAgree,
}: {
  lines: readonly QuoteLine[]
  agreed: Agreed | undefined
  onAgree: (agreed: Agreed) => void
}) {
  const ours = lines.filter((l) => l.kind !== 'elsewhere')
  const [by, setBy] = useState(agreed?.by ?? '')
  const [how, setHow] = useState<Agreed['how']>(agreed?.how ?? 'by phone')
  const [left, setLeft] = useState<readonly string[]>([])
  if (agreed)
    return (
      <aside className="border-l-6 border-l-ink pl-14">
        <p className="name">Agreed to</p>
        <p>
          by <b>{agreed.by}</b>, {agreed.how}, {sayDay(agreed.at)} {sayTime(agreed.at)}
        </p>
        <p className="text-small text-soft">
          {agreed.lines.length} of {ours.length} lines. A change asks for a new word.
        </p>
      </aside>
    )
  return (
    <aside aria-label="agreement" className="grid content-start gap-8">
      <p className="text-small text-soft">not agreed to yet</p>
      <input
        className="field"
        aria-label="agreed by"
        placeholder="who agrees"
        maxLength={80}
        value={by}
        onChange={(e) => setBy(e.target.value)}
      />
      <Choose
        label="how it was agreed"
        look="line"
        className="flex flex-wrap gap-x-14"
        value={how}
        choices={AGREED_HOW.map((h) => ({ value: h, label: h }))}
        onChange={setHow}
      />
      {ours.length > 1 &&
        ours.map((l, i) => (
          <Tick
            key={l.id}
            checked={!left.includes(l.id)}
            onChange={(on) => setLeft(on ? left.filter((x) => x !== l.id) : [...left, l.id])}
          >
            {i + 1} {l.words}
          </Tick>
        ))}
      <button
        type="button"
        className="act strong justify-center"
        disabled={!by.trim() || left.length === ours.length}
        onClick={() =>
          onAgree({
            by: by.trim(),
            how,
            at: shopIso(),
            lines: ours.filter((l) => !left.includes(l.id)).map((l) => l.id),
          })
        }
      >
        agreed
      </button>
    </aside>
  )
}
