import { Checkbox } from 'radix-ui'
import type { ReactNode } from 'react'

/** A box that is ticked: what was seen to stands filled, with its tick. */
export function Tick({
  checked,
  onChange,
  label,
  disabled,
  children,
  className = '',
}: {
  checked: boolean
  onChange: (checked: boolean) => void
  /** What it is called, where its words do not say it by themselves. */
  label?: string
  disabled?: boolean
  children: ReactNode
  className?: string
}) {
  return (
    <Checkbox.Root
      checked={checked}
      disabled={disabled}
      onCheckedChange={(x) => onChange(x === true)}
      aria-label={label}
      className={`act before:h-16 before:w-16 before:flex-none before:border-2 before:border-current data-[state=checked]:bg-ink data-[state=checked]:text-face data-[state=checked]:before:bg-face ${className}`}
    >
      <span className="leading-tight">{children}</span>
    </Checkbox.Root>
  )
}
