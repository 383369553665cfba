import type { StationId } from './stationIds.js'

/** What is known of one part of the path besides where it stands. */
export interface StationDetails {
  readonly material?: 'rubber' | 'plastic' | 'metal' | 'silicone' | 'textile'
  /** Day it was fitted, and day it was last serviced, yyyy-mm-dd. */
  readonly fittedOn?: string
  readonly servicedOn?: string
  /** Inner width of the hose [mm]. */
  readonly hoseMm?: number
  readonly clamp?: 'worm' | 'spring' | 'ear' | 'quick' | 'none'
  readonly note?: string
}

/** What of an engine's branches differs from the usual: which hang elsewhere, which it has besides, which it has not. */
export interface BranchEdits {
  /** Branches where they belong, by the station that they join; one that is there already is moved. */
  readonly joins?: Readonly<Partial<Record<StationId, StationId>>>
  readonly without?: readonly StationId[]
}

/** Fields that a dose or a liquid bound stands on; each holds only once a technician has seen it to be right. */
export const CONFIRMED_FIELDS = ['displacementL', 'cylinders', 'compressionRatio'] as const
export type ConfirmedField = (typeof CONFIRMED_FIELDS)[number]

/** The vehicle format of Uvula: what of an engine its air path and its expectations depend on. */
export interface Vehicle {
  readonly name: string
  /** Swept volume [L]. */
  readonly displacementL: number
  readonly cylinders: number
  readonly banks: number
  readonly compressionRatio: number
  /** What the controller fuels by; `maf+map` is fuelled by the airflow sensor and reports pressure too. */
  readonly metering: 'maf' | 'map' | 'maf+map' | 'none'
  readonly induction: 'natural' | 'turbo'
  readonly injection: 'port' | 'direct' | 'carburettor'
  readonly fuel: 'gasoline' | 'diesel'
  readonly throttle: 'electronic' | 'cable'
  readonly throttleBoreMm: number
  readonly throttleBodies: number
  readonly idleControl: 'electronic-throttle' | 'idle-valve' | 'none'
  readonly egr: 'none' | 'valve'
  readonly pcv: 'valve' | 'orifice'
  readonly idleSpecRpm: { readonly min: number; readonly max: number }
  /** Place of the recording [m]; in the application it belongs to the visit. */
  readonly altitudeM: number
  /** Air about the car [°C], where a visit knows it; no part of the car itself. */
  readonly ambientC?: number
  readonly booster?: boolean
  readonly purge?: boolean
  readonly flaps?: boolean
  readonly chargeSensor?: boolean
  /** Oxygen sensors ahead of the catalyst that measure λ, and not only its side of 1. */
  readonly wideband?: boolean
  readonly pcvJoins?: 'plenum' | 'duct' | 'throttle'
  readonly egrControl?: 'vacuum' | 'electric' | 'backpressure'
  readonly loadControl?: 'throttle' | 'valve-lift' | 'late-closing' | 'cylinder-cut'
  readonly plenum?: 'common' | 'per-bank' | 'individual'
  readonly feedPoints?: readonly string[]
  /** How the cylinders stand; left out, in line with one bank, as a V with two. */
  readonly layout?: 'line' | 'v' | 'flat'
  /** Sets of fuel trims; left out, one a bank of cylinders. */
  readonly trimBanks?: number
  /** Inlets side by side, each with its filter, duct and, with as many throttles, its own throttle; 1 when left out. */
  readonly inlets?: number
  /** How the pedal reaches the throttle or its sensor; left out, a cable to a cable throttle and a wire to an electronic one. */
  readonly pedal?: 'wire' | 'cable'
  /** An idle valve beside an electronic throttle. */
  readonly idleValveToo?: boolean
  readonly egrCooler?: boolean
  /** An oil separator in the crankcase vent, and where it sits. */
  readonly separator?: 'none' | 'open' | 'under-manifold'
  /** A diesel's throttle flap; left out, it has one. */
  readonly throttleFlap?: boolean
  readonly resonator?: boolean
  /** An intake temperature sensor of its own, apart from the airflow sensor. */
  readonly intakeTemperature?: boolean
  /** Coolant runs through the throttle body. */
  readonly throttleCoolant?: boolean
  readonly coatedBore?: boolean
  /** How it is driven, where that shortens or lengthens the way to the next look. */
  readonly driving?: readonly Driving[]
  /** Parts whose label forbids cleaning. */
  readonly doNotClean?: readonly StationId[]
  readonly idleSpecFrom?: 'label' | 'book' | 'measured' | 'ours'
  /** Fields that a technician has seen to be right. */
  readonly confirmed?: readonly ConfirmedField[]
  readonly branches?: BranchEdits
  readonly stations?: Readonly<Partial<Record<StationId, StationDetails>>>
}

/** Ways of driving that deposits and filters answer to. */
export const DRIVINGS = ['short-trips', 'dust', 'oiled-filter', 'motorway'] as const
export type Driving = (typeof DRIVINGS)[number]

/** True when an airflow sensor is fitted. */
export const hasMaf = (v: Vehicle): boolean => v.metering === 'maf' || v.metering === 'maf+map'
/** True when a manifold pressure sensor is fitted. */
export const hasMap = (v: Vehicle): boolean => v.metering === 'map' || v.metering === 'maf+map'
/**
 * True where one gauge tells the pressure behind the throttle: a diesel draws no vacuum, and behind throttles of each cylinder's
 * own it swings with every stroke up to ambient, so that its mean says nothing that a common manifold's would.
 */
export const hasSteadyVacuum = (v: Vehicle): boolean => v.fuel === 'gasoline' && v.plenum !== 'individual'

/** Sets of fuel trims that this engine reports. */
export const trimBanksOf = (v: Pick<Vehicle, 'banks' | 'trimBanks'>): number => v.trimBanks ?? v.banks
/** True when an idle valve is fitted, alone or beside an electronic throttle. */
export const hasIdleValve = (v: Vehicle): boolean => v.idleControl === 'idle-valve' || v.idleValveToo === true
/** True when a cable runs from the pedal. */
export const hasCable = (v: Vehicle): boolean => (v.pedal ?? (v.throttle === 'cable' ? 'cable' : 'wire')) === 'cable'
/** True where the mixture is trimmed by a controller: an injected gasoline engine. */
export const hasTrims = (v: Pick<Vehicle, 'fuel' | 'injection'>): boolean =>
  v.fuel === 'gasoline' && v.injection !== 'carburettor'
/** True where a controller meters the fuel: it may stop the engine, cut its fuel and flash a lamp; a carburettor does none of it. */
export const hasController = (v: Pick<Vehicle, 'injection'>): boolean => v.injection !== 'carburettor'
/** Inlets side by side. */
export const inletsOf = (v: Pick<Vehicle, 'inlets'>): number => v.inlets ?? 1
