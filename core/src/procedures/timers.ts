import { requireRange } from '../statistics/index.js'

/** Seconds left of a timer with a stored start; < 0 when it is over. Reload and sleep do not matter. */
export function secondsLeft(startedAtMs: number, seconds: number, nowMs: number): number {
  requireRange('seconds', seconds, seconds > 0, '> 0 s')
  return seconds - (nowMs - startedAtMs) / 1000
}

/** "07:42", or "1:07:42"; minus in front when it is over. */
export function clockFace(seconds: number): string {
  const s = Math.floor(Math.abs(seconds))
  const two = (n: number): string => String(n).padStart(2, '0')
  const h = Math.floor(s / 3600)
  return `${seconds < 0 ? '\u2212' : ''}${h ? `${h}:` : ''}${two(Math.floor((s % 3600) / 60))}:${two(s % 60)}`
}
