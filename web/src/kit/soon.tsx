import { lazy, useState, type ComponentType, type ReactElement } from 'react'

/** A part whose script comes later: asked for ahead, it stands at once; asked for by being shown, it is waited for. */
export interface Soon<P extends object> {
  (props: P): ReactElement
  /** Brings its script, once; a failure is kept for when it is shown. */
  readonly ask: () => Promise<unknown>
}

/**
 * Like `lazy`, but a part that has come already is shown without waiting: React holds what was waited for back for 300 ms, so
 * that every first change of page would cost as much.
 */
export function soon<P extends object>(load: () => Promise<ComponentType<P>>): Soon<P> {
  let here: ComponentType<P> | undefined
  const bring = async (): Promise<ComponentType<P>> => (here ??= await load())
  const Waited = lazy(async () => ({ default: await bring() }))
  // what it began with stays: a change in between would throw its state away
  const Part = (props: P): ReactElement => {
    const [Shown] = useState<ComponentType<P>>(() => here ?? Waited)
    return <Shown {...props} />
  }
  return Object.assign(Part, { ask: () => bring().catch(() => undefined) })
}

/** Brings parts one after another while nothing else is to be done. */
export function bringWhenIdle(parts: readonly { ask: () => Promise<unknown> }[], afterMs: number): void {
  const idle = (then: () => void): void =>
    void ('requestIdleCallback' in window ? requestIdleCallback(then, { timeout: 4000 }) : setTimeout(then, 200))
  const next = (i: number): void => {
    if (i < parts.length) idle(() => void parts[i].ask().then(() => next(i + 1)))
  }
  setTimeout(() => next(0), afterMs)
}
