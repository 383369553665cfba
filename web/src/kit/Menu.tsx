import { Ellipsis } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'

/** What else can be done with a thing, one tap away. */
export function Menu({
  label,
  acts,
  className = '',
}: {
  label: string
  acts: readonly { readonly label: string; readonly onSelect: () => void }[]
  className?: string
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={`grid h-tap w-tap place-items-center text-soft ${className}`} aria-label={label}>
        <Ellipsis size={24} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 border-2 border-ink bg-face text-ink">
          {acts.map((a) => (
            <DropdownMenu.Item
              key={a.label}
              onSelect={a.onSelect}
              className="flex min-h-tap cursor-pointer items-center px-16 outline-none data-highlighted:bg-face-2"
            >
              {a.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
