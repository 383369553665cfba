import type { Intent } from '../diagnosis/index.js'
import type { FeedRequest, MethodId, ProductId, SurfaceId, StageDone } from '../cleaning/index.js'
import type { StationId, Vehicle } from '../engine/index.js'
import type { AdaptationId, OwnProcedure, RunEvent } from '../procedures/index.js'
import type { Mapping } from '../reading/index.js'
import type { ChannelId, ChosenStretch, OperatingPoint, PointKind } from '../signals/index.js'
import type { BalanceRecord } from './balanceRecords.js'
import type { CountRecord, ItemRecord } from './itemRecords.js'
import type { RecordMeta } from './meta.js'
import type { QuoteRecord } from './quoteRecords.js'

export interface VehicleRecord extends RecordMeta {
  readonly plate: string
  readonly customer: string
  readonly vin?: string
  readonly spec: Vehicle
}

export interface VisitRecord extends RecordMeta {
  readonly vehicleId: string
  readonly openedAt: string
  readonly state: 'open' | 'handed-over'
  readonly intent: Intent
  readonly complaint: string
  readonly signs: readonly string[]
  readonly conditions: readonly string[]
  readonly odometerKm?: number
  readonly altitudeM: number
  readonly ambientC: number
  /** Station pressure read from a trusted barometer [kPa]; the standard atmosphere stands in without one. */
  readonly baroKpa?: number
  /** Where branches hung when the car came, where that is not where they belong. */
  readonly asFound?: Readonly<Partial<Record<StationId, AsFound>>> | null
}

/** Where a branch was found: on another station, off, or capped. */
export type AsFound = StationId | 'off' | 'capped'

/** Where a typed reading belongs: the points a technician takes by hand. */
export type Slot =
  'key-on' | 'idle' | 'idle-load' | 'hold-1500' | 'hold-2500' | 'cruise' | 'pull' | 'snap' | 'deceleration' | 'cranking'

/** One number read at one point of one round; round 0 is the baseline, each later one follows a remedy. */
export interface ReadingRecord extends RecordMeta {
  readonly visitId: string
  readonly round: number
  readonly slot: Slot
  readonly channel: ChannelId
  /** Canonical unit of the channel. */
  readonly value: number
  /** What was typed, as typed. */
  readonly typed: string
  /** Put right by a person's word after a remedy had closed its round. */
  readonly corrected?: boolean | null
}

export type Outcome = 'pass' | 'fail' | 'unclear'

/** Something looked at, tried or noted at a station. */
export interface FindingRecord extends RecordMeta {
  readonly visitId: string
  /** Test id, 'look' or 'note'. */
  readonly test: string
  readonly station: StationId
  /** Look item, when it is one; which of its unlike finds a test made, where that is known. */
  readonly item?: string
  readonly outcome: Outcome
  readonly note?: string
  /** A measured result: total trim with a branch pinched [%], an area [mm²], a fall [kPa/min], a pressure [kPa]. */
  readonly value?: number
  readonly unit?: ResultUnit
  /** What was read to get it, by field of the test's form, canonical units. */
  readonly figures?: Readonly<Record<string, number>> | null
  /** Pieces of work on what it looks at that were done when it was made: more of them since have overtaken it. Older records do not say. */
  readonly afterWork?: number | null
}

export const RESULT_UNITS = ['%', 'mm²', 'kPa/min', 'kPa'] as const
export type ResultUnit = (typeof RESULT_UNITS)[number]

export type RepairKind = (typeof REPAIR_KINDS)[number]
/** Ways in which a find is answered; to leave it is one, and changes nothing on the car. */
export const REPAIR_KINDS = ['refit', 'clamp', 'wrap', 'splice', 'cap', 'replace', 'reroute', 'clean', 'leave'] as const

/** A remedy, planned or done. */
export interface RepairRecord extends RecordMeta {
  readonly visitId: string
  readonly station: StationId
  readonly kind: RepairKind
  readonly state: 'planned' | 'done'
  /** Round of readings that stood when it was done; proof is a later round. */
  readonly afterRound: number
  readonly temporary: boolean
  /** Date of the next look at a temporary repair, yyyy-mm-dd. */
  readonly recheckOn?: string
  readonly minutes: number
  readonly partsPrice: number
  readonly conditions: readonly string[]
  readonly note?: string
  /** Find that it answers, where its place does not say: id of the finding. */
  readonly finding?: string | null
}

export interface RecordingRecord extends RecordMeta {
  readonly visitId: string
  readonly round: number
  readonly name: string
  readonly sha256: string
  readonly bytes: number
  readonly rows: number
  readonly points: readonly OperatingPoint[]
  readonly closedThrottlePct?: number
  readonly warnings: readonly string[]
  /** What a person said its labels mean. */
  readonly mapping?: Mapping | null
  /** Stretches that count by a technician's choice, instead of those found. */
  readonly stretches?: readonly ChosenStretch[] | null
}

export interface PhotoRecord extends RecordMeta {
  readonly visitId: string
  readonly station: StationId
  readonly sha256: string
  readonly mime: string
}

export interface ReportRecord extends RecordMeta {
  readonly visitId: string
  readonly number: number
  readonly issuedAt: string
  /** The sheet as it was issued; never edited, only amended by a later report. */
  readonly sheet: unknown
}

/** A surface cleaned: with what, how, and the test it ended at. */
export interface StepRecord extends RecordMeta {
  readonly visitId: string
  readonly station: StationId
  readonly surface: SurfaceId
  readonly product: ProductId
  readonly method: MethodId
  readonly passed: boolean
  /** Round of readings that stood when it reached its end. */
  readonly afterRound?: number | null
  readonly more?: StepMore | null
}

/** How far a wash came. */
export interface StepMore {
  readonly stages: readonly StageDone[]
  /** Classes that failed its end test: the next stronger is tried. */
  readonly failed?: readonly ProductId[]
  /** The label's most oil of a filter [g]. */
  readonly oilLabelG?: number
}

/** A STOP caution seen to, or what was seen or done that has no record of its own: see who names its ids. */
export interface TickRecord extends RecordMeta {
  readonly visitId: string
  readonly caution: string
}

/** One attempt at a timed procedure, with every event's own time stamp. */
export interface RunRecord extends RecordMeta {
  readonly visitId: string
  readonly procedure: string
  readonly attempt: number
  readonly preconditions: readonly string[]
  readonly events: readonly RunEvent[]
  /** A feed's request, from which its plan is computed again. */
  readonly feed?: Omit<FeedRequest, 'vehicle'>
  /** Round of readings that stood when it began. */
  readonly afterRound?: number | null
  /** The shop's own procedure as it was when the run was armed: what it is judged by, for ever. */
  readonly own?: OwnProcedure | null
  /** Learnt values that were taken back in it. */
  readonly reset?: readonly AdaptationId[] | null
  /** Whose hand it is in: one page leads, others watch. */
  readonly leader?: RunLeader | null
}

/** The page that leads a run, and who works at it. */
export interface RunLeader {
  /** Made once by the page. */
  readonly page: string
  readonly by: string
}

export interface TimerRecord extends RecordMeta {
  readonly visitId: string
  readonly label: string
  readonly kind: 'drying' | 'soak' | 'battery-off' | 'other'
  readonly startedAt: string
  readonly seconds: number
  readonly ended: boolean
}

/** A trouble code as it was read. */
export interface CodeRecord extends RecordMeta {
  readonly visitId: string
  readonly code: string
  readonly state: 'pending' | 'stored' | 'permanent'
  readonly when: 'before' | 'after' | 'after-drive'
  readonly cleared: boolean
  /** Freeze-frame that came with it, canonical units. */
  readonly frame?: Readonly<Partial<Record<ChannelId, number>>> | null
}

/** Everything of one visit. */
export interface VisitFile {
  readonly format: 'uvula-visit'
  readonly formatVersion: 1
  readonly vehicle: VehicleRecord
  readonly visit: VisitRecord
  readonly readings: readonly ReadingRecord[]
  readonly findings: readonly FindingRecord[]
  readonly repairs: readonly RepairRecord[]
  readonly recordings: readonly RecordingRecord[]
  readonly photos: readonly PhotoRecord[]
  readonly reports: readonly ReportRecord[]
  readonly items: readonly ItemRecord[]
  readonly counts: readonly CountRecord[]
  readonly steps: readonly StepRecord[]
  readonly ticks: readonly TickRecord[]
  readonly runs: readonly RunRecord[]
  readonly timers: readonly TimerRecord[]
  readonly codes: readonly CodeRecord[]
  readonly balances: readonly BalanceRecord[]
  readonly quotes: readonly QuoteRecord[]
}

/** Nouns of a visit's collections. */
export type VisitNoun = (typeof VISIT_NOUNS)[number]
export const VISIT_NOUNS = [
  'readings',
  'findings',
  'repairs',
  'recordings',
  'photos',
  'reports',
  'items',
  'counts',
  'steps',
  'ticks',
  'runs',
  'timers',
  'codes',
  'balances',
  'quotes',
] as const

/** Kind of operating point of a slot, and the speed it is held at. */
export const SLOTS: Readonly<
  Record<
    Slot,
    {
      readonly kind: PointKind | 'cranking'
      readonly label: string
      readonly rpm?: number
      /** A moment that only a gauge tells of: no point that the engine holds. */
      readonly gaugeOnly?: true
    }
  >
> = {
  'key-on': { kind: 'key-on', label: 'key on, engine off' },
  idle: { kind: 'idle', label: 'warm idle' },
  'idle-load': { kind: 'idle-load', label: 'idle, A/C on' },
  'hold-1500': { kind: 'hold', label: '1500 held', rpm: 1500 },
  'hold-2500': { kind: 'hold', label: '2500 held', rpm: 2500 },
  cruise: { kind: 'cruise', label: 'cruise', rpm: 2000 },
  pull: { kind: 'pull', label: 'full pull' },
  snap: { kind: 'snap', label: 'snap, lowest', gaugeOnly: true },
  deceleration: { kind: 'deceleration', label: 'deceleration, deepest', gaugeOnly: true },
  cranking: { kind: 'cranking', label: 'cranking', gaugeOnly: true },
}

/** Records that count: undone ones left out. */
export const live = <T extends RecordMeta>(xs: readonly T[]): readonly T[] => xs.filter((x) => !x.deleted)
