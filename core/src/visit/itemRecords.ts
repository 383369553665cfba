import type { StationId } from '../engine/index.js'
import type { JointShape, Torque } from '../procedures/index.js'
import type { RecordMeta } from './meta.js'

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
