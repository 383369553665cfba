import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'

/** A word that explains itself at a tap: a finger has no hover. */
export function Hint({ word, label, children }: { word: ReactNode; label: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger
        className="min-h-tap min-w-tap text-small text-soft underline underline-offset-4"
        aria-label={label}
      >
        {word}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={12}
          className="z-50 max-w-360 border-2 border-ink bg-face p-14 leading-snug text-ink focus:outline-none"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
