import { useEffect, useRef } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import {
  feedWatch,
  mayKeepLive,
  measuredForFeed,
  type FeedRunState,
  type RunEvent,
  type RunRecord,
  type VisitFile,
} from '@uvula/core'
import { newestValues } from '../live/liveReadings.js'
import { useLive } from '../live/liveStore.js'
import { beep } from '../store/sound.js'
import { useShop } from '../store/visit.js'
import { HIGH, LOW, COUNT } from './feedLooks.js'
import { shopNow } from '../store/clock.js'

/** A page that was asleep this long past a sound does not make up for it [ms]. */
const ASLEEP_MS = 1500
/** A page that follows asks this often [ms]. */
const FOLLOW_MS = 1000

/** Opens and shuts by sound, exactly when it is due; a page that slept past a sound holds instead. */
export function useClock({
  state,
  on,
  waits,
  tell,
}: {
  state: FeedRunState
  on: boolean
  waits: string | undefined
  tell: (kind: RunEvent['kind'], atMs?: number) => void
}): void {
  const { phase, dueMs } = state
  /** Held because live data said that it had not come back: it goes on by itself, counted in again. */
  const heldByLive = useRef(false)
  useEffect(() => {
    if (phase === 'count-in') heldByLive.current = false
  }, [phase])
  useEffect(() => {
    if (!on || dueMs === undefined) return
    const timer = setTimeout(
      () => {
        const atMs = shopNow()
        if (phase === 'shot') {
          beep(LOW)
          tell('shut', atMs)
        } else if (waits !== undefined || atMs > dueMs + ASLEEP_MS) {
          // a page that slept, and a hand, are waited for
          heldByLive.current = waits !== undefined && atMs <= dueMs + ASLEEP_MS
          tell('hold', atMs)
        } else {
          beep(HIGH)
          tell('open', atMs)
        }
      },
      Math.max(0, dueMs - shopNow()),
    )
    return () => clearTimeout(timer)
  }, [on, phase, dueMs, waits, tell])
  useEffect(() => {
    if (!on || phase !== 'held' || !heldByLive.current || waits !== undefined) return
    heldByLive.current = false
    tell('go', shopNow())
  }, [on, phase, waits, tell])
  useEffect(() => {
    if (!on || phase !== 'count-in' || dueMs === undefined) return
    const left = Math.ceil((dueMs - shopNow()) / 1000)
    const beats = Array.from({ length: Math.max(0, left) }, (_, k) =>
      setTimeout(() => beep(COUNT), Math.max(0, dueMs - 1000 * (k + 1) - shopNow())),
    )
    return () => beats.forEach((b) => clearTimeout(b))
  }, [on, phase, dueMs])
}

/** Each page sees what another one tells. */
export function useFollow(visitId: string, on: boolean): void {
  const client = useQueryClient()
  useEffect(() => {
    if (!on) return
    const beat = setInterval(() => void client.invalidateQueries({ queryKey: ['visit', visitId] }), FOLLOW_MS)
    return () => clearInterval(beat)
  }, [client, on, visitId])
}

/** What live data say, where a link is open to this car; a simulated one speaks in the demo shop only. */
export function useFeedWatch(
  file: VisitFile,
  run: RunRecord,
): ReturnType<typeof feedWatch> & { readonly rpm?: number } {
  const live = useLive()
  const shop = useShop()
  const { totalTrim } = measuredForFeed(file, shopNow(), run.feed!.rpm)
  const simulated = live.state?.standIn === true
  if (live.state?.phase !== 'live' || !mayKeepLive(simulated, shop?.demo === true).ok) return {}
  const samples = live.samples.slice(-300)
  return {
    ...feedWatch(samples, { rpm: run.feed!.rpm, trimPct: totalTrim === undefined ? undefined : 100 * totalTrim }),
    rpm: newestValues(samples).rpm,
  }
}
