import type { InputHTMLAttributes, ReactNode } from 'react'

/** One figure of a list that is filled one below the other: its name, its field, its unit, and what is said of it. */
export function FieldRow({
  id,
  label,
  unit,
  strong = false,
  wide = false,
  output,
  onText,
  onEnter,
  children,
  ...field
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange'> & {
  id: string
  label: string
  unit: string
  strong?: boolean
  /** Room for a longer name. */
  wide?: boolean
  /** A figure that reads by itself, in place of the field. */
  output?: string
  onText: (text: string) => void
  onEnter: () => void
  children?: ReactNode
}) {
  return (
    <li
      className={`grid min-h-tap items-center gap-8 ${wide ? 'grid-cols-[minmax(0,1fr)_110px_52px]' : 'grid-cols-[90px_100px_40px_minmax(0,1fr)]'}`}
    >
      <label htmlFor={id} className={strong ? 'font-semibold' : ''}>
        {label}
      </label>
      {output === undefined ? (
        <input
          id={id}
          className="field fig text-right text-figure"
          inputMode="decimal"
          autoComplete="off"
          onChange={(e) => onText(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && onEnter()}
          {...field}
        />
      ) : (
        <output id={id} className="fig text-right text-reading leading-none">
          {output}
        </output>
      )}
      <span className="text-small text-soft">{unit}</span>
      {children}
    </li>
  )
}
