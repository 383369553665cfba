import type { StationId, Vehicle } from '../engine/index.js'
import type { QuantityId } from '../units/index.js'
import type { Outcome, ResultUnit, VisitFile } from './records.js'

/** One figure that a test is read off by. */
export interface TestField {
  readonly id: string
  readonly label: string
  readonly quantity: QuantityId
  /** Bounds in the quantity's canonical unit, outside which it is a slip. */
  readonly min: number
  readonly max: number
  readonly optional?: true
  /** Shown beside the field where its quantity has no unit of its own. */
  readonly unit?: string
}

/** What figures say: how the test ends, its size, and a sentence. */
export interface TestSaid {
  readonly outcome: Outcome
  /** Which of the test's unlike finds it is. */
  readonly item?: string
  readonly value?: number
  readonly unit?: ResultUnit
  readonly said: string
}

/** A small form fitted to one test. */
export interface TestForm {
  readonly test: string
  readonly fields: readonly TestField[]
  /** Engines that it reads; all where it does not say. */
  readonly suits?: (v: Vehicle) => boolean
  /** @param x - the figures that were read, all that are not optional among them */
  readonly judge: (x: Readonly<Record<string, number>>, f: VisitFile, made?: TestMade) => TestSaid
}

/** Where a test was made, if that is known, and the round of readings that stood then: the newest where it is made now. */
export interface TestMade {
  readonly station?: StationId
  readonly round?: number
}

export const field = (
  id: string,
  label: string,
  quantity: QuantityId,
  min: number,
  max: number,
  more: Pick<TestField, 'optional' | 'unit'> = {},
): TestField => ({ id, label, quantity, min, max, ...more })

/** @returns the outcome by two limits, whichever way round they stand; between them it is unclear */
export const between = (x: number, pass: number, fail: number): Outcome =>
  pass < fail
    ? x <= pass
      ? 'pass'
      : x >= fail
        ? 'fail'
        : 'unclear'
    : x >= pass
      ? 'pass'
      : x <= fail
        ? 'fail'
        : 'unclear'
