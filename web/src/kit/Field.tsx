import { useId, type InputHTMLAttributes, type Ref } from 'react'

/** A labelled line to type on; what is wrong with it stands under it in words. */
export function Field({
  label,
  unit,
  error,
  look = 'beside',
  ref,
  ...input
}: {
  label: string
  unit?: string
  error?: string
  /** Label beside the line, or above it. */
  look?: 'beside' | 'above'
  ref?: Ref<HTMLInputElement>
} & InputHTMLAttributes<HTMLInputElement>) {
  // two forms of one page may ask for the same thing
  const id = useId()
  return (
    <div className={look === 'beside' ? 'grid grid-cols-[190px_minmax(100px,1fr)_52px] items-center gap-8' : ''}>
      <label htmlFor={id} className={look === 'above' ? 'mb-4 block text-small text-soft' : ''}>
        {label}
      </label>
      <input
        {...input}
        id={id}
        ref={ref}
        autoComplete="off"
        className={look === 'beside' ? 'field fig text-figure' : 'field'}
        aria-invalid={error !== undefined}
        aria-describedby={error ? `${id}-wrong` : undefined}
      />
      {unit !== undefined && <span className="text-small text-soft">{unit}</span>}
      {error && (
        <p id={`${id}-wrong`} className="wrong col-span-full text-small" role="alert">
          {label} {error}
        </p>
      )}
    </div>
  )
}
