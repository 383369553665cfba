import { proxy, wrap, type Remote } from 'comlink'
import { useQuery } from '@tanstack/react-query'
import { startTransition, useEffect, useMemo, useRef, useState } from 'react'
import {
  evidenceOf,
  vehicleAtPlace,
  type Balance,
  type Calibration,
  type Beyond,
  type Diagnosis,
  type Mapping,
  type Outcomes,
  type SoundRecord,
  type Speed,
  type Vehicle,
  type VisitFile,
  type WaveResult,
} from '@uvula/core'
import type { OutcomeCount, SoundAnswer } from '@uvula/contract'
import { getJson } from '../store/api.js'
import { useSettings } from '../store/settings.js'
import type { Heart, ReadResult } from './heart.worker.js'

const newWorker = (): Worker => new Worker(new URL('./heart.worker.ts', import.meta.url), { type: 'module' })

let remote: Remote<Heart> | undefined

/** The worker, started when first needed. */
export function heart(): Remote<Heart> {
  remote ??= wrap<Heart>(newWorker())
  return remote
}

/** A worker for one file: it never keeps the diagnosis waiting, and stopping it stops the reading at once. */
export interface Reader {
  read(
    bytes: Uint8Array,
    vehicle: Vehicle,
    mapping: Mapping | undefined,
    tell: (share: number) => void,
  ): Promise<ReadResult>
  /** Cylinders against each other from a waveform. */
  balance(
    bytes: Uint8Array,
    vehicle: Vehicle,
    side: 'intake' | 'exhaust',
    calibration: Calibration | undefined,
    tell: (share: number) => void,
  ): Promise<WaveResult<Balance>>
  /** Speed of the crank in a sound, or in the bytes of one. */
  speed(signal: Float64Array, sampleHz: number, vehicle: Vehicle): Promise<Speed>
  speedOfFile(bytes: Uint8Array, vehicle: Vehicle): Promise<WaveResult<Speed>>
  /** Ends the worker; a read that was going on answers nothing any more. */
  stop(): void
}

/** A worker that waits for the next file: its scripts are there, and what it reads with is compiled for it. */
interface Spare {
  readonly worker: Worker
  readonly there: Remote<Heart>
}
let spare: Spare | undefined

function newSpare(): Spare {
  const worker = newWorker()
  return { worker, there: wrap<Heart>(worker) }
}

/** Starts a worker ahead of the first file, which then does not wait for its scripts. */
export function warmReader(): void {
  spare ??= newSpare()
}

/** Gives one; a worker whose file was read to its end waits for the next. */
export function reader(): Reader {
  const { worker, there } = spare ?? newSpare()
  spare = undefined
  let stopped = false
  let working = 0
  const during = async <T>(work: Promise<T>): Promise<T> => {
    working++
    try {
      return await work
    } finally {
      working--
    }
  }
  return {
    read: (bytes, vehicle, mapping, tell) =>
      // a word that was on its way when it was stopped says nothing any more
      during(
        there.read(
          bytes,
          vehicle,
          mapping,
          proxy((share: number) => !stopped && tell(share)),
        ) as Promise<ReadResult>,
      ),
    speed: (signal, sampleHz, vehicle) => during(there.speed(signal, sampleHz, vehicle) as Promise<Speed>),
    speedOfFile: (bytes, vehicle) => during(there.speedOfFile(bytes, vehicle) as Promise<WaveResult<Speed>>),
    balance: (bytes, vehicle, side, calibration, tell) =>
      during(
        there.balance(
          bytes,
          vehicle,
          side,
          calibration,
          proxy((share: number) => !stopped && tell(share)),
        ) as Promise<WaveResult<Balance>>,
      ),
    stop: () => {
      if (stopped) return
      stopped = true
      // in the middle of a file only its end stops it
      if (working || spare) worker.terminate()
      else spare = { worker, there }
    },
  }
}

/** What the diagnosis reads, and nothing else: a photo or a price does not set it off again. */
const evidenceKey = (f: VisitFile, round: number): string => JSON.stringify([vehicleAtPlace(f), evidenceOf(f, round)])

const NONE_SOUND: readonly SoundRecord[] = []

/** Records of this car and of cars of its model when they were sound, from the shop's other visits; none until they are known. */
export function useSoundRecords(file: VisitFile | undefined): readonly SoundRecord[] {
  const id = file?.vehicle.id
  const except = file?.visit.id
  const { data } = useQuery({
    queryKey: ['sound', id, except],
    queryFn: () =>
      getJson<SoundAnswer>(`/api/vehicles/${encodeURIComponent(id!)}/sound?except=${encodeURIComponent(except!)}`),
    enabled: file !== undefined,
    staleTime: 60_000,
  })
  return data?.sound ?? NONE_SOUND
}

/** Causes that this shop confirmed, as far as they are counted; asked again until they all are. */
export function useOutcomeCount(wanted: boolean): OutcomeCount | undefined {
  const { data } = useQuery({
    queryKey: ['outcomes'],
    queryFn: () => getJson<OutcomeCount>('/api/shop/outcomes'),
    enabled: wanted,
    staleTime: 60_000,
    refetchInterval: ({ state }) => (state.data && state.data.counted < state.data.of ? 1000 : false),
  })
  return wanted ? data : undefined
}

/** The same for the diagnosis: nothing until every visit is counted, so that it does not move while they are. */
function useOutcomes(wanted: boolean): Outcomes | undefined {
  const count = useOutcomeCount(wanted)
  return count && count.counted === count.of ? count.causes : undefined
}

/** Diagnoses that were worked out last, by what they stand on: the next page that asks has its answer at once. */
const weighed = new Map<string, Diagnosis>()
const WEIGHED_MOST = 12
function keepWeighed(key: string, d: Diagnosis): void {
  weighed.delete(key)
  weighed.set(key, d)
  if (weighed.size > WEIGHED_MOST) weighed.delete(weighed.keys().next().value!)
}

/** Diagnosis of a round, kept while the next is worked out; `busy` after half a second. */
export function useDiagnosis(
  file: VisitFile | undefined,
  round: number,
): { diagnosis: Diagnosis | undefined; busy: boolean } {
  const [busy, setBusy] = useState(false)
  const latest = useRef(0)
  const { ownOutcomes, missing } = useSettings()
  const sound = useSoundRecords(file)
  const outcomes = useOutcomes(ownOutcomes && file !== undefined)
  const evidence = useMemo(() => file && evidenceKey(file, round), [file, round])
  const key = evidence && evidence + JSON.stringify([sound.map((s) => s.visitId), outcomes, missing])
  const [diagnosis, setDiagnosis] = useState(() => (key === undefined ? undefined : weighed.get(key)))
  useEffect(() => {
    if (!file || key === undefined) return
    const mine = ++latest.current
    const known = weighed.get(key)
    if (known) {
      setDiagnosis(known)
      setBusy(false)
      return
    }
    const beyond: Beyond = { ...(sound.length ? { sound } : {}), ...(outcomes ? { outcomes } : {}) }
    const slow = setTimeout(() => setBusy(true), 500)
    const start = performance.now()
    void heart()
      .diagnose(file, round, beyond, missing)
      .then((d) => {
        performance.measure('diagnosis', { start })
        keepWeighed(key, d)
        // a later question has been asked meanwhile: its answer counts
        // a tap goes before it
        if (mine === latest.current) startTransition(() => setDiagnosis(d))
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
