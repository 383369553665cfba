import type { FaultId } from '../diagnosis/index.js'
import type { OwnProcedure } from '../procedures/index.js'
import type { RecordMeta } from './meta.js'

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
