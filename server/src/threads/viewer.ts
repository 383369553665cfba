import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import type { ChosenStretch, OperatingPoint, Trace, Vehicle } from '@uvula/core'
import { QuestionThread } from './question-thread.js'

/** A recording as it is kept: what names its columns as they stand now, and where they are read when they are not at hand. */
export interface KeptRecording {
  readonly key: string
  columns(): Promise<Uint8Array>
}

/** What is drawn of a recording. */
export interface TraceAsked {
  readonly channels: readonly string[]
  readonly rows: number
  /** A closer look, from one time to another [s]. */
  readonly span?: readonly [number, number]
}

/** Its operating points, of stretches that somebody chose or that it finds itself. */
export interface PointsAsked {
  readonly vehicle: Vehicle
  readonly stretches?: readonly ChosenStretch[]
}

/** The points, or which chosen stretch has too few rows, in words. */
export type PointsAnswer = { readonly points: readonly OperatingPoint[] } | { readonly stretches: string }

/** Which recording, and its columns where it is not at hand. */
export interface OfRecording {
  readonly key: string
  readonly columns?: Uint8Array
}

/** Of a recording that is not at hand nothing is told without its columns. */
type OrShut<T> = T | 'shut'

/** What is asked of recordings that are kept. */
export interface Viewing {
  readonly trace: { readonly asks: OfRecording & TraceAsked; readonly answers: OrShut<Trace> }
  readonly points: { readonly asks: OfRecording & PointsAsked; readonly answers: OrShut<PointsAnswer> }
}

/**
 * Unpacks recordings and draws them in a thread of its own: a closer look at a long one never makes a live row late, nor waits for
 * a file that is being read. The one that was asked for last stays at hand for a while: who looks closer asks again at once.
 */
@Injectable()
export class Viewer implements OnModuleDestroy {
  private readonly thread = new QuestionThread<Viewing>(new URL('./viewer.worker.js', import.meta.url))

  trace(of: KeptRecording, asked: TraceAsked): Promise<Trace> {
    return answered(of, (which) => this.thread.ask('trace', { ...which, ...asked }))
  }

  points(of: KeptRecording, asked: PointsAsked): Promise<PointsAnswer> {
    return answered(of, (which) => this.thread.ask('points', { ...which, ...asked }))
  }

  onModuleDestroy(): Promise<void> {
    return this.thread.end()
  }
}

/** Asks by name alone first, and with the columns where it is not at hand. */
async function answered<T>(of: KeptRecording, ask: (which: OfRecording) => Promise<OrShut<T>>): Promise<T> {
  const answer = await ask({ key: of.key })
  if (answer !== 'shut') return answer
  return (await ask({ key: of.key, columns: await of.columns() })) as T
}
