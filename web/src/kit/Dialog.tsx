import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

/** A sheet over the bench: focus stays in it, Escape and a tap beside it close it. */
export function Dialog({
  open,
  onOpenChange,
  title,
  wide = false,
  trigger,
  children,
}: {
  open?: boolean
  onOpenChange?: (open: boolean) => void
  title: string
  wide?: boolean
  /** The button that opens it. */
  trigger?: ReactNode
  children: ReactNode
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      {trigger && <Radix.Trigger asChild>{trigger}</Radix.Trigger>}
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-veil" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-40 max-h-[90dvh] w-max -translate-x-1/2 -translate-y-1/2 overflow-auto border-2 border-ink bg-face p-gap text-ink focus:outline-none ${wide ? 'max-w-[min(760px,94vw)]' : 'max-w-[min(640px,94vw)]'}`}
        >
          <Radix.Title className="name">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}

/** A button that closes the sheet it stands in. */
export function Close({ children = 'close', strong = false }: { children?: ReactNode; strong?: boolean }) {
  return (
    <Radix.Close className={strong ? 'act strong' : 'act'} type="button">
      {children}
    </Radix.Close>
  )
}
