import { Link } from 'react-router'

/** Loading: said, with something that moves. */
export function Waiting({ what }: { what: string }) {
  return (
    <div className="state-page">
      <p className="name">Fetching {what}</p>
      <div className="progress" role="progressbar" aria-label={`fetching ${what}`} />
    </div>
  )
}

/** Failing: what happened and what to do. */
export function Failing({ error }: { error: Error }) {
  return (
    <div className="state-page">
      <p className="name">That did not work</p>
      <p className="wrong">{error.message}</p>
      <p>What was entered is kept in this browser. Try again, or go back to the bay.</p>
      <button type="button" className="act strong" onClick={() => location.reload()}>
        try again
      </button>
      <Link to="/" className="act">
        to the bay
      </Link>
    </div>
  )
}
