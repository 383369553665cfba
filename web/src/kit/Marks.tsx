import { ToggleGroup } from 'radix-ui'
import type { Choice } from './Choose.js'

/** Any of a few, each a ring that a tap fills. */
export function Marks<T extends string>({
  label,
  values,
  choices,
  onToggle,
  className = 'grid grid-cols-3 gap-x-8',
}: {
  label: string
  values: readonly T[]
  choices: readonly Choice<T>[]
  onToggle: (value: T) => void
  className?: string
}) {
  const changed = (next: string[]): void => {
    const one = choices.find((c) => next.includes(c.value) !== values.includes(c.value))
    if (one) onToggle(one.value)
  }
  return (
    <ToggleGroup.Root
      type="multiple"
      aria-label={label}
      value={[...values]}
      onValueChange={changed}
      className={className}
    >
      {choices.map((c) => (
        <ToggleGroup.Item
          key={c.value}
          value={c.value}
          className="relative min-h-tap w-full py-4 pl-20 text-label leading-none before:absolute before:top-[calc(50%-7px)] before:left-0 before:h-14 before:w-14 before:rounded-[50%] before:border-2 before:border-ink data-[state=on]:font-semibold data-[state=on]:before:bg-ink"
        >
          {c.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}
