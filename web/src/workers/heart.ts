import { wrap, type Remote } from 'comlink'
import { useEffect, useRef, useState } from 'react'
import type { Diagnosis, VisitFile } from '@uvula/core'
import type { Heart } from './heart.worker.js'

let remote: Remote<Heart> | undefined

/** The worker, started when first needed. */
export function heart(): Remote<Heart> {
  remote ??= wrap<Heart>(new Worker(new URL('./heart.worker.ts', import.meta.url), { type: 'module' }))
  return remote
}

/** What the diagnosis depends on, so that a photo or a price does not set it off again. */
const evidenceKey = (f: VisitFile, round: number): string =>
  JSON.stringify([
    round,
    f.vehicle.spec,
    f.visit.altitudeM,
    f.visit.ambientC,
    f.visit.signs,
    f.visit.intent,
    f.readings.map((r) => [r.id, r.value, r.deleted]),
    f.findings.map((r) => [r.id, r.outcome, r.deleted]),
    f.recordings.map((r) => [r.id, r.deleted, r.version, r.points?.length]),
  ])

/** Diagnosis of a round, kept while the next is worked out; `busy` after half a second. */
export function useDiagnosis(
  file: VisitFile | undefined,
  round: number,
): { diagnosis: Diagnosis | undefined; busy: boolean } {
  const [diagnosis, setDiagnosis] = useState<Diagnosis>()
  const [busy, setBusy] = useState(false)
  const latest = useRef(0)
  const key = file && evidenceKey(file, round)
  useEffect(() => {
    if (!file) return
    const mine = ++latest.current
    const slow = setTimeout(() => setBusy(true), 500)
    void heart()
      .diagnose(file, round)
      .then((d) => {
        // a later question has been asked meanwhile: its answer counts
        if (mine === latest.current) setDiagnosis(d)
      })
      .finally(() => {
        clearTimeout(slow)
        if (mine === latest.current) setBusy(false)
      })
    return () => clearTimeout(slow)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key stands for everything in the file that counts
  }, [key])
  return { diagnosis, busy }
}
