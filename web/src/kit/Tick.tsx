import { Check } from 'lucide-react'
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
      className={`act data-[state=checked]:bg-ink data-[state=checked]:text-face ${className}`}
    >
      <span className="grid size-20 flex-none place-items-center border-2 border-current" aria-hidden>
        <Checkbox.Indicator>
          <Check size={18} strokeWidth={4} />
        </Checkbox.Indicator>
      </span>
      <span className="leading-tight">{children}</span>
    </Checkbox.Root>
  )
}
