import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { QuoteLine, QuotePart } from '@uvula/core'

const KIND_WORDS = { test: 'test', remedy: '', elsewhere: 'offered elsewhere, not by us' } as const

const figureOf = (text: string): number => Number(text.trim().replace(',', '.') || NaN)

/** One line of a quote: its price as a bar, as much of it filled as it is likely the cure; minutes and parts typed on it. */
export function QuoteRow({
  n,
  line,
  price,
  miss,
  dearest,
  currency,
  onChange,
  onRemove,
}: {
  n: number
  line: QuoteLine
  price: number
  miss: number | undefined
  /** Price of the dearest line, which the bars are measured by. */
  dearest: number
  currency: string
  onChange: (line: QuoteLine) => void
  onRemove: () => void
}) {
  const setPart = (i: number, part: Partial<QuotePart>): void =>
    onChange({ ...line, parts: line.parts.map((p, k) => (k === i ? { ...p, ...part } : p)) })
  return (
    <li className="border-b border-b-line py-6" data-quote-line={n}>
      <div className="grid grid-cols-[28px_minmax(0,1fr)_112px_110px_44px] items-center gap-x-10 narrow:grid-cols-[28px_1fr_110px_44px]">
        <span className="fig text-figure">{n}</span>
        <Typed
          label={`line ${n}: words`}
          value={line.words}
          onDone={(words) => onChange({ ...line, words })}
          wide
          className="narrow:col-span-2"
        />
        {line.kind === 'elsewhere' ? (
          <span className="narrow:hidden" />
        ) : (
          <Typed
            label={`line ${n}: minutes`}
            value={String(line.minutes)}
            unit="min"
            className="narrow:col-start-2 narrow:row-start-2"
            onDone={(t) => onChange({ ...line, minutes: figureOf(t) })}
          />
        )}
        <span className="fig text-right text-figure narrow:col-start-3 narrow:row-start-2">{price.toFixed(2)}</span>
        <button
          type="button"
          className="grid h-tap w-tap place-items-center narrow:col-start-4 narrow:row-start-1"
          aria-label={`take line ${n} off`}
          onClick={onRemove}
        >
          <X size={22} aria-hidden />
        </button>
      </div>
      <div className="pl-38">
        <span
          className="my-4 block h-14 border-2 border-ink"
          style={{ width: `${Math.max(2, (100 * price) / dearest)}%` }}
          role="img"
          aria-label={
            line.chance === undefined
              ? `${price.toFixed(2)} ${currency}`
              : `${(100 * line.chance).toFixed(0)} of 100 that it is the cure`
          }
        >
          {line.chance !== undefined && (
            <span className="block h-full bg-ink" style={{ width: `${100 * line.chance}%` }} />
          )}
        </span>
        <p className="flex flex-wrap items-center gap-x-16 text-small text-soft">
          {KIND_WORDS[line.kind] && <span>{KIND_WORDS[line.kind]}</span>}
          {line.chance !== undefined && (
            <span>
              the cure with {(100 * line.chance).toFixed(0)} of 100; a miss costs {price.toFixed(2)}, times its chance{' '}
              {miss!.toFixed(2)} {currency}
            </span>
          )}
          <button
            type="button"
            className="inline-flex min-h-tap items-center gap-4"
            aria-label={`line ${n}: a part more`}
            onClick={() => onChange({ ...line, parts: [...line.parts, { name: 'part', price: 0 }] })}
          >
            <Plus size={18} aria-hidden /> part
          </button>
        </p>
        {line.parts.map((p, i) => (
          <div
            key={i}
            className="grid grid-cols-[minmax(0,1fr)_150px_120px_44px] items-center gap-x-10 narrow:grid-cols-[1fr_1fr_44px]"
          >
            <Typed label={`line ${n}: part ${i + 1}`} value={p.name} onDone={(name) => setPart(i, { name })} wide />
            <Typed
              label={`line ${n}: number of part ${i + 1}`}
              value={p.number ?? ''}
              placeholder="number"
              onDone={(number) => setPart(i, { number: number.trim() || undefined })}
              wide
            />
            <Typed
              label={`line ${n}: price of part ${i + 1}`}
              value={p.price.toFixed(2)}
              onDone={(t) => setPart(i, { price: figureOf(t) })}
            />
            <button
              type="button"
              className="grid h-tap w-tap place-items-center"
              aria-label={`line ${n}: take part ${i + 1} off`}
              onClick={() => onChange({ ...line, parts: line.parts.filter((_, k) => k !== i) })}
            >
              <X size={20} aria-hidden />
            </button>
          </div>
        ))}
      </div>
    </li>
  )
}

/** A field that is taken when it is left or entered; words wrap in it. */
function Typed({
  label,
  value,
  unit,
  placeholder,
  wide = false,
  className = '',
  onDone,
}: {
  label: string
  value: string
  unit?: string
  placeholder?: string
  /** Words instead of a figure. */
  wide?: boolean
  className?: string
  onDone: (text: string) => void
}) {
  const [text, setText] = useState<string>()
  const done = (): void => {
    if (text !== undefined && text !== value) onDone(text)
    setText(undefined)
  }
  const field = {
    'aria-label': label,
    placeholder,
    autoComplete: 'off',
    value: text ?? value,
    onChange: (e: { target: { value: string } }) => setText(e.target.value),
    onBlur: done,
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key !== 'Enter') return
      e.preventDefault()
      done()
    },
  }
  return (
    <span className={`flex items-center gap-6 ${className}`}>
      {wide ? (
        <textarea
          rows={1}
          className="field min-w-0 resize-none py-10 leading-tight [field-sizing:content]"
          {...field}
        />
      ) : (
        <input className="field fig min-w-0 text-right text-figure" inputMode="decimal" {...field} />
      )}
      {unit && <span className="text-small text-soft">{unit}</span>}
    </span>
  )
}
