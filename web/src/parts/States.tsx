import { Component, type ReactNode } from 'react'
import { Link } from 'react-router'

/** Loading: said, with something that moves. */
export function Waiting({ what }: { what: string }) {
  return (
    <main className="px-gap py-[10vh] gap-16 max-w-640 grid justify-items-start">
      <h1 className="name">Fetching {what}</h1>
      <div className="progress w-320" role="progressbar" aria-label={`fetching ${what}`} />
    </main>
  )
}

/** Failing: what happened and what to do. */
export function Failing({ error }: { error: Error }) {
  return (
    <main className="px-gap py-[10vh] gap-16 max-w-640 grid justify-items-start">
      <h1 className="name">That did not work</h1>
      <p className="wrong">{error.message}</p>
      <p>What was entered is kept in this browser. Try again, or go back to the bay.</p>
      <button type="button" className="act strong" onClick={() => location.reload()}>
        try again
      </button>
      <Link to="/" className="act">
        to the bay
      </Link>
    </main>
  )
}

/** What browsers say of a script that did not come. */
const NOT_LOADED = /dynamically imported module|module script|preload CSS|error loading/i

/** Keeps a part of the screen that cannot be loaded or drawn from taking the page with it: it says so instead. */
export class PartBoundary extends Component<{ readonly children: ReactNode }, { readonly error?: Error }> {
  override state: { readonly error?: Error } = {}

  static getDerivedStateFromError(error: unknown): { readonly error: Error } {
    return { error: error instanceof Error ? error : new Error(String(error)) }
  }

  override render(): ReactNode {
    const { error } = this.state
    if (!error) return this.props.children
    const words = NOT_LOADED.test(error.message)
      ? 'This part of the screen could not be loaded: the server does not answer, or has a newer version. Try again when it is back.'
      : `This part of the screen broke: ${error.message}`
    return <Failing error={new Error(words)} />
  }
}
