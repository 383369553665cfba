import { useRef } from 'react'
import { useOutbox } from '../store/visit.js'
import { Stuck } from './Undelivered.js'

/** What has not been delivered, and what needs a decision. */
export function Delivery() {
  const { writes, reachable } = useOutbox()
  const dialog = useRef<HTMLDialogElement>(null)
  const waiting = writes.filter((w) => w.state === 'waiting').length
  const stuck = writes.filter((w) => w.state !== 'waiting')
  if (!writes.length && reachable)
    return (
      <span className="whitespace-nowrap text-soft text-small narrow:hidden" data-testid="delivery" data-waiting="0">
        all kept
      </span>
    )
  const words = stuck.length
    ? `${stuck.length} to decide`
    : reachable
      ? `${waiting} on the way`
      : `server away, ${waiting} kept here`
  return (
    <>
      <button
        type="button"
        className="whitespace-nowrap"
        data-testid="delivery"
        data-waiting={waiting}
        onClick={() => dialog.current?.showModal()}
      >
        <b>{words}</b>
      </button>
      <dialog ref={dialog} aria-label="not delivered">
        <h2 className="name">{reachable ? 'Not delivered yet' : 'The server does not answer'}</h2>
        <p>
          {reachable
            ? 'These entries are kept in this browser until the server has them.'
            : 'Everything entered is kept in this browser and goes out by itself when the server is back.'}
        </p>
        {stuck.map((w) => (
          <Stuck key={w.seq} write={w} />
        ))}
        <button type="button" className="act" onClick={() => dialog.current?.close()}>
          close
        </button>
      </dialog>
    </>
  )
}
