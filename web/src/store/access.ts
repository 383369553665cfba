import { useSyncExternalStore } from 'react'
import type { Standing } from '@uvula/contract'
import { changeSettings } from './settings.js'

/** Whether this page came over the shop's network: there somebody signs in. The server says so in the page itself. */
export const overNetwork = globalThis.document?.documentElement.dataset.way === 'network'

/** What stands before the work: nothing, a server that knows nobody here, or somebody who wants to hand the tablet over. */
export type Before = 'nothing' | 'stranger' | 'change'

let before: Before = 'nothing'
const listeners = new Set<() => void>()
const come = new Set<() => void>()

function set(next: Before): void {
  if (next === before) return
  before = next
  for (const f of listeners) f()
}

/** The server answered that nobody is signed in. */
export const shutOut = (): void => set('stranger')

/** Asks for another hand, or leaves it. */
export const changeHands = (wanted = true): void => {
  if (before !== 'stranger') set(wanted ? 'change' : 'nothing')
}

/** Somebody signed in: entries carry the name from now on, and what waited goes. */
export function letIn({ me }: Standing): void {
  if (me) changeSettings({ technician: me.name })
  set('nothing')
  for (const f of come) f()
}

/** Told each time somebody has signed in. */
export function onLetIn(f: () => void): () => void {
  come.add(f)
  return () => come.delete(f)
}

const subscribe = (f: () => void): (() => void) => {
  listeners.add(f)
  return () => listeners.delete(f)
}

export const useBefore = (): Before => useSyncExternalStore(subscribe, () => before)
