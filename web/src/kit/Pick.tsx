import { ChevronDown } from 'lucide-react'
import { Select } from 'radix-ui'
import { nonce } from './nonce.js'

export interface Option<T extends string> {
  readonly value: T
  readonly label: string
}

/** One of a list, whole words shown: opens over the bench, arrows and first letters move in it. */
export function Pick<T extends string>({
  id,
  label,
  value,
  options,
  onChange,
  className = '',
}: {
  id?: string
  label: string
  value: T
  options: readonly Option<T>[]
  onChange: (value: T) => void
  className?: string
}) {
  return (
    <Select.Root value={value} onValueChange={(x) => onChange(x as T)}>
      <Select.Trigger
        id={id}
        aria-label={label}
        className={`flex min-h-tap w-full items-center justify-between gap-6 border-b-2 border-ink leading-tight data-[state=open]:bg-face-2 ${className}`}
      >
        <Select.Value />
        <Select.Icon>
          <ChevronDown size={20} aria-hidden />
        </Select.Icon>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) border-2 border-ink bg-face text-ink"
        >
          <Select.Viewport nonce={nonce}>
            {options.map((o) => (
              <Select.Item
                key={o.value}
                value={o.value}
                className="flex min-h-tap cursor-pointer items-center border-l-8 border-l-transparent px-12 outline-none data-highlighted:bg-face-2 data-[state=checked]:border-l-ink data-[state=checked]:font-semibold"
              >
                <Select.ItemText>{o.label}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  )
}
