import type {
  FillRecord,
  HistoryRow,
  NextLook,
  Outcomes,
  VehicleRecord,
  VisitFile,
  VisitNoun,
  VisitRecord,
  ThrottlesTaken,
} from '@uvula/core'

/** Answer of GET /api/bay. */
export interface Bay {
  readonly shop: Shop
  readonly rows: readonly VisitFile[]
}

/** The shop that this server keeps. */
export interface Shop {
  readonly name: string
  readonly demo: boolean
  readonly altitudeM: number
  readonly labourPerHour: number
  readonly currency: string
  /** Tax on labour and parts [%]; none where left out. */
  readonly taxPct?: number
  /** Week days on which parts arrive, 1 Monday to 7 Sunday. */
  readonly partsDays: readonly number[]
}

/** Answer of GET /api/shop/outcomes: complete when `counted` equals `of`. */
export interface OutcomeCount {
  readonly causes: Outcomes
  /** Visits weighed by now, of those that are to be. */
  readonly counted: number
  readonly of: number
}

/** Answer of GET /api/vehicles/:id/card. */
export interface VehicleCard {
  readonly vehicle: VehicleRecord
  readonly visits: readonly VisitRecord[]
  /** Its visits as its history shows them, oldest first. */
  readonly history: readonly HistoryRow[]
  readonly nextLook: NextLook
  /** Tanks filled, in no order. */
  readonly fills: readonly FillRecord[]
  readonly temporary: readonly {
    readonly visitId: string
    readonly station: string
    readonly kind: string
    readonly recheckOn?: string
  }[]
  /** What the newest issued sheet left open and advised, in its own words. */
  readonly left: { readonly visitId: string; readonly openedAt: string; readonly lines: readonly string[] } | null
  /** How far apart its throttles were left, newest visit first. */
  readonly balances: readonly {
    readonly visitId: string
    readonly openedAt: string
    readonly slot: ThrottlesTaken['slot']
    readonly spreadKpa: number
  }[]
}

/** Answer of GET /api/find?q= */
export interface FindResult {
  readonly vehicles: readonly VehicleRecord[]
  readonly visits: readonly {
    readonly visitId: string
    readonly vehicleId: string
    readonly plate: string
    readonly name: string
    readonly openedAt: string
    readonly state: string
  }[]
}

/** RFC 9457 problem details, with the field at fault and, on a conflict, both values. */
export interface Problem {
  readonly type: string
  readonly title: string
  readonly status: number
  readonly detail: string
  readonly field?: string
  readonly problems?: readonly { readonly field: string; readonly value?: unknown; readonly accepted: string }[]
  /** On 409: what the server holds. */
  readonly current?: unknown
  readonly rule?: string
}

/** Nouns that a write may name; each is a path under /api. */
export type WriteNoun = 'vehicles' | 'visits' | 'procedures' | 'fills' | VisitNoun

/** One write, as the outbox keeps it and the server takes it. */
export interface WriteBody {
  /** Version of the record that the writer saw; 0 when it is new. */
  readonly baseVersion: number
  /** Key of the sender's own earlier write that this one was made upon; it then counts instead of the version. */
  readonly basedOnKey?: string
  readonly by: string
  /** ISO 8601, the device's clock when it was entered. */
  readonly at: string
}
