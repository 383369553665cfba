import type { InputHTMLAttributes, ReactNode } from 'react'

/** One figure of a list that is filled one below the other: its name, its field, its unit, and what is said of it. */
export function FieldRow({
  id,
  label,
  unit,
  strong = false,
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
  /** A figure that reads by itself, in place of the field. */
  output?: string
  onText: (text: string) => void
  onEnter: () => void
  children?: ReactNode
}) {
  return (
    <li className="grid min-h-tap grid-cols-[90px_100px_40px_minmax(0,1fr)] items-center gap-8">
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
