import { useEffect, useRef, useState } from 'react'
import { ledSlotOf, type LedSlot, type OperatingPoint, type VisitFile, vehicleAtPlace } from '@uvula/core'
import type { LinkSample } from '@uvula/contract'
import { heart } from '../workers/heart.js'
import type { LiveRecording } from './liveStore.js'

/** How often the rows are looked through for points [ms]. */
const LOOK_MS = 1500

/** What the recording holds so far. */
export interface LiveEvidence {
  readonly points: readonly OperatingPoint[]
  readonly closedThrottlePct?: number
  readonly got: ReadonlySet<LedSlot>
  /** The visit with the recording laid in, as if it were kept already. */
  readonly file: VisitFile
}

/** Looks for operating points while rows come, in the worker, one look at a time. */
export function useLiveEvidence(
  file: VisitFile,
  recording: LiveRecording | undefined,
  rows: readonly LinkSample[],
): LiveEvidence {
  const [found, setFound] = useState<Pick<LiveEvidence, 'points' | 'closedThrottlePct'>>({ points: [] })
  const latest = useRef({ rows, file })
  latest.current = { rows, file }
  const running = recording !== undefined
  useEffect(() => {
    if (!running) return setFound({ points: [] })
    let busy = false
    let seen = 0
    const look = async (): Promise<void> => {
      const { rows: list, file: f } = latest.current
      if (busy || list.length === seen || list.length < 2) return
      busy = true
      const from = Math.min(seen, list.length)
      seen = list.length
      try {
        setFound(await heart().watch(list.slice(from), from, vehicleAtPlace(f)))
      } finally {
        busy = false
      }
    }
    const timer = setInterval(() => void look(), LOOK_MS)
    return () => clearInterval(timer)
  }, [running])
  const got = new Set(
    found.points.map((p) => ledSlotOf(p, file.vehicle.spec)).filter((s): s is LedSlot => s !== undefined),
  )
  const laidIn: VisitFile =
    recording && found.points.length
      ? {
          ...file,
          recordings: [
            ...file.recordings,
            {
              id: 'live',
              version: 0,
              by: '',
              at: '',
              visitId: file.visit.id,
              round: recording.round,
              name: 'live',
              sha256: '',
              bytes: 0,
              rows: rows.length,
              points: found.points,
              closedThrottlePct: found.closedThrottlePct,
              warnings: [],
            },
          ],
        }
      : file
  return { ...found, got, file: laidIn }
}
