import type {
  FillRecord,
  HistoryRow,
  NextLook,
  Outcomes,
  SoundRecord,
  VehicleRecord,
  VisitFile,
  VisitRecord,
  ThrottlesTaken,
} from '@uvula/core'

export type { WriteFields, WriteNoun } from '@uvula/core'

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

/** Answer of GET /api/vehicles/:id/sound: this car's own record first, then those of cars of its model, newest first. */
export interface SoundAnswer {
  readonly sound: readonly SoundRecord[]
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

/** First line of a backup file: what is in it and how to tell that it is whole. */
export interface BackupHead {
  readonly format: 'uvula-backup'
  readonly formatVersion: 1
  /** ISO. */
  readonly madeAt: string
  readonly shop: string
  /** Last step of the schema that its data file has taken. */
  readonly schema: string
  /** Records by table. */
  readonly counts: Readonly<Record<string, number>>
  /** Of the data file, unpacked. */
  readonly bytes: number
  readonly sha256: string
}

/** A backup in the chosen folder. */
export interface BackupListed {
  readonly name: string
  readonly madeAt: string
  readonly visits: number
  readonly vehicles: number
  /** Of the file as it lies there. */
  readonly bytes: number
}

/** The last backup that went into the folder, or why it did not. */
export interface BackupMade {
  readonly at: string
  /** Which data file: the shop's own, or the demo's. */
  readonly of: 'own' | 'demo'
  readonly name?: string
  readonly problem?: string
}

/** Answer of GET /api/shop/backups. */
export interface Backups {
  /** Changes with every start: another one says that the server has come back. */
  readonly boot: string
  /** Folder on the shop's computer into which a backup goes each night; empty where none is chosen. */
  readonly folder: string
  /** How many are kept. */
  readonly keep: number
  readonly last?: BackupMade
  /** There is a shop of one's own, which the nightly one is of; the demo is not backed up by itself. */
  readonly ownShop: boolean
  readonly files: readonly BackupListed[]
}
