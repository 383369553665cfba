import { useSyncExternalStore } from 'react'

/** Header in which the server says its time [ms since 1970]. */
const HEADER = 'uvula-now'
/** A clock that differs by less is the same [ms]: what a network takes is no difference. */
const ALIKE_MS = 2000
/** A difference that was taken stands until it has changed by this [ms]: it does not move within a run. */
const MOVED_MS = 5000
/** An answer that took longer tells nothing of the time [ms]. */
const SLOW_MS = 2000
const KEY = 'uvula-clock'

function stored(): number {
  try {
    const ms = Number(localStorage.getItem(KEY) ?? 0)
    return Number.isFinite(ms) ? ms : 0
  } catch {
    return 0
  }
}

/** The shop's clock less this device's [ms]; known from the last answer of the server, and kept for when it is away. */
let offMs = stored()
let heard = false
const listeners = new Set<() => void>()

/** Learns from an answer how far this device's clock is off. @param sentMs - when it was asked, by this device's clock */
export function hearClock(headers: Pick<Headers, 'get'>, sentMs: number): void {
  const cameMs = Date.now()
  const said = headers.get(HEADER)
  if (said === null || cameMs - sentMs > SLOW_MS || cameMs < sentMs) return
  const difference = Number(said) - (sentMs + cameMs) / 2
  if (!Number.isFinite(difference)) return
  const next = Math.abs(difference) < ALIKE_MS ? 0 : Math.round(difference)
  const moved = heard ? Math.abs(next - offMs) >= MOVED_MS : next !== offMs
  heard = true
  if (!moved) return
  offMs = next
  try {
    localStorage.setItem(KEY, String(next))
  } catch {
    // a browser that keeps nothing learns it anew
  }
  for (const f of listeners) f()
}

/** The time now by the shop's clock [ms since 1970]: two tablets that differ count the same timer down. */
export const shopNow = (): number => Date.now() + offMs

/** Shop time of a key's or pointer's own event. @param timeStamp - of the event [ms since the page began] */
export const shopTimeOf = (timeStamp: number): number => performance.timeOrigin + timeStamp + offMs

/** ISO 8601, by the shop's clock. */
export const shopIso = (): string => new Date(shopNow()).toISOString()

const subscribe = (f: () => void): (() => void) => {
  listeners.add(f)
  return () => listeners.delete(f)
}

/** The shop's clock less this device's [ms]; 0 where they agree. */
export const useClockOff = (): number => useSyncExternalStore(subscribe, () => offMs)
