import type { ReactNode } from 'react'
import { Close, Dialog } from '../kit/Dialog.js'
import type { PendingWrite } from '../store/database.js'
import { Stuck } from './Undelivered.js'

/** What waits, and why; with each entry that needs a decision. Loaded when something waits. */
export function DeliveryDialog({
  open,
  onOpenChange,
  trigger,
  writes,
  reachable,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  trigger: ReactNode
  writes: readonly PendingWrite[]
  reachable: boolean
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={reachable ? 'Not delivered yet' : 'The server does not answer'}
      trigger={trigger}
    >
      <p>
        {reachable
          ? 'These entries are kept in this browser until the server has them.'
          : 'Everything entered is kept in this browser and goes out by itself when the server is back.'}
      </p>
      {writes
        .filter((w) => w.state !== 'waiting')
        .map((w) => (
          <Stuck key={w.key} write={w} />
        ))}
      <Close />
    </Dialog>
  )
}
