import { useEffect, useState } from 'react'
import { useLater } from '../kit/useLater.js'
import { useClockOff } from '../store/clock.js'
import { useOutbox } from '../store/visit.js'
import { saySkew } from '../words/format.js'

const dialog = () => import('./DeliveryDialog.js')

/** What has not been delivered, what needs a decision, and a clock that is not the shop's. */
export function Delivery() {
  const off = useClockOff()
  return (
    <>
      {off !== 0 && (
        <span className="text-small text-soft narrow:pl-16" data-testid="clock">
          this clock is {saySkew(off)}: corrected
        </span>
      )}
      <Waiting />
    </>
  )
}

/** An entry that is taken within this is not told on its way: nothing flickers at every tap [ms]. */
const SWIFT_MS = 400

/** Whether something has been going on for longer than that. */
function useSlow(goingOn: boolean): boolean {
  const [slow, setSlow] = useState(false)
  useEffect(() => {
    if (!goingOn) return
    const timer = setTimeout(() => setSlow(true), SWIFT_MS)
    return () => {
      clearTimeout(timer)
      setSlow(false)
    }
  }, [goingOn])
  return slow && goingOn
}

function Waiting() {
  const { writes, reachable, sending } = useOutbox()
  // a tap that comes before the sheet is there is kept until it is
  const [open, setOpen] = useState(false)
  const later = useLater(dialog, open)
  const waiting = writes.filter((w) => w.state === 'waiting').length
  const stuck = writes.length - waiting
  const calm = reachable && !stuck && !writes.some((w) => w.fileBytes !== undefined)
  const slow = useSlow(waiting > 0 && calm)
  if (calm && !slow)
    return (
      <span
        className="text-small whitespace-nowrap text-soft narrow:hidden"
        data-testid="delivery"
        data-waiting={waiting}
      >
        all kept
      </span>
    )
  // until its last piece is in storage a page that is closed takes the file along
  const keeping = writes.some((w) => w.fileBytes !== undefined && w.seq === undefined)
  const file = writes.find((w) => w.key === sending?.key)?.fileBytes
  const share = sending && file ? `, ${Math.floor((100 * sending.bytes) / file)} % of the file` : ''
  const words = stuck
    ? `${stuck} to decide`
    : keeping
      ? 'keeping the file …'
      : reachable
        ? `${waiting} on the way${share}`
        : `server away, ${waiting} kept here`
  const button = (
    <button
      type="button"
      className="whitespace-nowrap narrow:pl-16"
      data-testid="delivery"
      data-waiting={waiting}
      onClick={later ? undefined : () => setOpen(true)}
    >
      <b>{words}</b>
    </button>
  )
  return later ? (
    <later.DeliveryDialog open={open} onOpenChange={setOpen} trigger={button} writes={writes} reachable={reachable} />
  ) : (
    button
  )
}
