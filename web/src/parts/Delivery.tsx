import { Close, Dialog } from '../kit/Dialog.js'
import { useOutbox } from '../store/visit.js'
import { Stuck } from './Undelivered.js'

/** What has not been delivered, and what needs a decision. */
export function Delivery() {
  const { writes, reachable } = useOutbox()
  const waiting = writes.filter((w) => w.state === 'waiting').length
  const stuck = writes.filter((w) => w.state !== 'waiting')
  if (!writes.length && reachable)
    return (
      <span className="text-small whitespace-nowrap text-soft narrow:hidden" data-testid="delivery" data-waiting="0">
        all kept
      </span>
    )
  const words = stuck.length
    ? `${stuck.length} to decide`
    : reachable
      ? `${waiting} on the way`
      : `server away, ${waiting} kept here`
  return (
    <Dialog
      title={reachable ? 'Not delivered yet' : 'The server does not answer'}
      trigger={
        <button type="button" className="whitespace-nowrap" data-testid="delivery" data-waiting={waiting}>
          <b>{words}</b>
        </button>
      }
    >
      <p>
        {reachable
          ? 'These entries are kept in this browser until the server has them.'
          : 'Everything entered is kept in this browser and goes out by itself when the server is back.'}
      </p>
      {stuck.map((w) => (
        <Stuck key={w.seq} write={w} />
      ))}
      <Close />
    </Dialog>
  )
}
