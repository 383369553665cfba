import { ToggleGroup } from 'radix-ui'
import type { ReactNode } from 'react'

export interface Choice<T extends string> {
  readonly value: T
  readonly label: ReactNode
  /** What it is called, where its label does not say it by itself. */
  readonly name?: string
}

const LOOKS = {
  /** Words on a line, the chosen one underlined. */
  line: 'min-w-tap text-center border-b-4 border-b-transparent text-soft data-[state=on]:border-ink data-[state=on]:font-semibold data-[state=on]:text-ink',
  /** Boxes side by side, the chosen one filled. */
  box: 'act data-[state=on]:bg-ink data-[state=on]:text-face',
  /** Lines one below the other, the chosen one with a heavy edge. */
  edge: 'border-l-4 border-l-line pl-12 text-left data-[state=on]:border-l-8 data-[state=on]:border-l-ink data-[state=on]:font-semibold',
} as const

/** One of a few, all in sight: arrows move, one is always chosen. */
export function Choose<T extends string>({
  label,
  value,
  choices,
  onChange,
  look,
  className = '',
  itemClass = '',
}: {
  label: string
  value: T | undefined
  choices: readonly Choice<T>[]
  onChange: (value: T) => void
  look: keyof typeof LOOKS
  className?: string
  itemClass?: string
}) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value ?? ''}
      // a tap on what is chosen leaves it chosen
      onValueChange={(x) => x && onChange(x as T)}
      className={className}
    >
      {choices.map((c) => (
        <ToggleGroup.Item key={c.value} value={c.value} aria-label={c.name} className={`${LOOKS[look]} ${itemClass}`}>
          {c.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}
