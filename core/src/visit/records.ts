import type { FaultId, Intent } from '../diagnosis/index.js'
import type { FeedRequest, MethodId, ProductId, SurfaceId, StageDone } from '../cleaning/index.js'
import type { StationId, Vehicle } from '../engine/index.js'
import type { PumpPartId, PumpSample, ThrottleLayoutId, ThrottleTurn } from '../vacuum/index.js'
import type { Balance } from '../waves/index.js'
import type { AdaptationId, IdleSample, JointShape, OwnProcedure, RunEvent, Torque } from '../procedures/index.js'
import type { Mapping } from '../reading/index.js'
import type { ChannelId, ChosenStretch, OperatingPoint, PointKind } from '../signals/index.js'

/** What every record of a visit carries: who, when by the clock of the device, and its own version. */
export interface RecordMeta {
  readonly id: string
  /** Counts the accepted writes of this record; 0 is "not there yet". */
  readonly version: number
  readonly by: string
  /** ISO 8601, clock of the device that took it. */
  readonly at: string
  /** ISO 8601, the server's receipt; missing while it waits in the outbox. */
  readonly receivedAt?: string
  /** Undone: kept for the history, counted nowhere. */
  readonly deleted?: boolean
  /** Rule that this fact went against, when it was recorded all the same. */
  readonly againstRule?: string
  /** Why the server cannot take it; only on the device that entered it, until somebody decides. */
  readonly refused?: string
}

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
  'key-on' | 'idle' | 'idle-load' | 'hold-1500' | 'hold-2500' | 'cruise' | 'snap' | 'deceleration' | 'cranking'

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
  /** Look item, when it is one. */
  readonly item?: string
  readonly outcome: Outcome
  readonly note?: string
  /** A measured result: total trim with a branch pinched [%], an area [mm²], a fall [kPa/min], a pressure [kPa]. */
  readonly value?: number
  readonly unit?: ResultUnit
  /** What was read to get it, by field of the test's form, canonical units. */
  readonly figures?: Readonly<Record<string, number>> | null
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

/** What a part of the inventory is. */
export type ItemKind = (typeof ITEM_KINDS)[number]
export const ITEM_KINDS = [
  'bolt',
  'nut',
  'stud',
  'screw',
  'clip',
  'clamp',
  'connector',
  'hose',
  'gasket',
  'o-ring',
  'bracket',
  'cover',
  'sensor',
  'part',
] as const

export const ARRIVALS = ['present', 'missing', 'broken', 'stripped', 'hardened'] as const
export type Arrival = (typeof ARRIVALS)[number]
export type ItemState = 'on' | 'off' | 'loose'

/** One of several alike: its own state, and how it was found. */
export interface Piece {
  readonly state: ItemState
  readonly arrival: Arrival
  /** What is odd about this one: longer, another head. */
  readonly odd?: string
  /** A new one went in. */
  readonly renewed?: boolean
}

/** What is known of a part besides its name and count. */
export interface ItemMore {
  readonly kind: ItemKind
  /** Each by itself, as many as its count. */
  readonly pieces: readonly Piece[]
  /** Length and thread, as said in the shop. */
  readonly size?: string
  /** What runs through a hose. */
  readonly carries?: 'air' | 'vacuum' | 'coolant' | 'fuel' | 'oil'
  /** A gasket or ring as it goes back; what the maker says of using it again; what is put on it. */
  readonly seal?: 'new' | 'reused' | 'doubtful'
  readonly makerSays?: 'renew' | 'may be reused'
  readonly sealant?: 'none' | 'grease' | 'sealant'
  /** Groove that a ring lies in. */
  readonly groove?: string
  readonly shape?: JointShape
  readonly torque?: Torque
  /** Bought together with it. */
  readonly pairedWith?: string
  readonly order?: 'needed' | 'ordered' | 'have'
  /** Why it goes on before its turn. */
  readonly before?: string
}

/** Something taken off, or found missing: where, how many, which way round. */
export interface ItemRecord extends RecordMeta {
  readonly visitId: string
  readonly station: StationId
  readonly name: string
  readonly count: number
  /** Drive and size, as said in the shop. */
  readonly drive?: string
  readonly bag?: string
  /** Which way round, which way a clamp screw faced. */
  readonly way?: string
  /** How it was found: the first of its pieces that was not whole. */
  readonly arrival: Arrival
  /** `loose`: on, and loose on purpose until a named step; it blocks closing. Off while any of its pieces is off. */
  readonly state: ItemState
  readonly until?: string
  readonly more?: ItemMore
}

/** Rags, plugs, props, tools: a hand that put some in or took some out. A thing's count is the sum of its records. */
export interface CountRecord extends RecordMeta {
  readonly visitId: string
  readonly thing: string
  readonly station: StationId
  readonly putIn: number
  readonly takenOut: number
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

/** A STOP caution seen to. */
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

/** What a pressure signal said of the cylinders. */
export interface WaveTaken {
  readonly kind: 'wave'
  /** Name of the file. */
  readonly name: string
  readonly side: 'intake' | 'exhaust'
  readonly balance: Balance
}

/** One row of throttle vacuums, and what was turned before it was read. */
export interface ThrottlesTaken {
  readonly kind: 'throttles'
  readonly slot: 'idle' | 'hold-2500'
  readonly layout: ThrottleLayoutId
  /** Gauge vacuum at each throttle, 1 first [kPa]. */
  readonly vacuumKpa: readonly number[]
  readonly turned?: ThrottleTurn
  /** Read off simulated throttles. */
  readonly practice?: boolean
}

/** One cylinder put out for seconds: what speed and vacuum did. */
export interface DropTaken {
  readonly kind: 'drop'
  readonly cylinder: number
  /** Fall of the speed [rpm], and of the vacuum where it was read [kPa]. */
  readonly rpmDrop: number
  readonly vacuumDropKpa?: number
}

/** How the gauge's needle behaved. */
export interface NeedleTaken {
  readonly kind: 'needle'
  readonly needle: string
}

/** What a hand pump held, figure by figure. */
export interface PumpTaken {
  readonly kind: 'pump'
  readonly part: PumpPartId
  readonly samples: readonly PumpSample[]
}

/** The idle as it was watched after work, to see whether it settles by itself. */
export interface SettleTaken {
  readonly kind: 'settle'
  /** When watching began, ISO 8601; the samples count from here. */
  readonly beganAt: string
  readonly ended?: boolean
  readonly samples: readonly IdleSample[]
}

/** A balance that was taken: of the cylinders by a waveform or by drops, of the throttles by their gauges. */
export interface BalanceRecord extends RecordMeta {
  readonly visitId: string
  readonly round: number
  readonly taken: WaveTaken | ThrottlesTaken | DropTaken | NeedleTaken | PumpTaken | SettleTaken
}

/** A part as a shop knows it: its own name and number, its own price. */
export interface QuotePart {
  readonly name: string
  readonly number?: string
  readonly price: number
}

/** One line of what is offered: a test, a remedy, or a part that somebody else has offered before. */
export interface QuoteLine {
  readonly id: string
  readonly words: string
  readonly kind: 'test' | 'remedy' | 'elsewhere'
  readonly minutes: number
  readonly parts: readonly QuotePart[]
  /** The cause that it answers, and the chance that it is the cure as it stood when it was offered [–]. */
  readonly cause?: FaultId
  readonly chance?: number
}

/** Who agreed to what, when and how. */
export interface Agreed {
  readonly by: string
  readonly at: string
  readonly how: (typeof AGREED_HOW)[number]
  /** Lines that were agreed to. */
  readonly lines: readonly string[]
}
export const AGREED_HOW = ['in person', 'by phone', 'in writing'] as const

/** What is offered before it is done. */
export interface QuoteRecord extends RecordMeta {
  readonly visitId: string
  readonly lines: readonly QuoteLine[]
  /** The shop's hour and tax as they stood when it was offered. */
  readonly labourPerHour: number
  readonly taxPct: number
  readonly agreed?: Agreed | null
}

/** A shop's own procedure as it is kept. */
export interface ProcedureRecord extends RecordMeta {
  readonly value: OwnProcedure
}

/** A tank filled, over the weeks of a car. */
export interface FillRecord extends RecordMeta {
  readonly vehicleId: string
  /** yyyy-mm-dd */
  readonly on: string
  readonly odometerKm: number
  readonly litres: number
  /** To the brim; a part fill counts into the tank that ends at the next brim. */
  readonly full: boolean
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
  snap: { kind: 'snap', label: 'snap, lowest', gaugeOnly: true },
  deceleration: { kind: 'deceleration', label: 'deceleration, deepest', gaugeOnly: true },
  cranking: { kind: 'cranking', label: 'cranking', gaugeOnly: true },
}

/** Records that count: undone ones left out. */
export const live = <T extends RecordMeta>(xs: readonly T[]): readonly T[] => xs.filter((x) => !x.deleted)
