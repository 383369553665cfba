import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import type { ChosenStretch, Mapping, OperatingPoint, RecordingError, Sheet, Vehicle, VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import type { PdfReport } from '../reports/pdf.js'
import { QuestionThread } from './question-thread.js'

/** A dropped file and the car it is of. */
export interface DroppedFile {
  readonly bytes: Uint8Array
  readonly mapping?: Mapping
  readonly vehicle: Vehicle
  readonly stretches?: readonly ChosenStretch[]
}

/** What was read from it. */
export interface ReadFile {
  readonly sha256: string
  /** gzip of the original. */
  readonly packed: Uint8Array
  /** Its columns as one compressed block. */
  readonly columns: Uint8Array
  readonly rows: number
  readonly points: readonly OperatingPoint[]
  readonly closedThrottlePct?: number
  readonly warnings: readonly string[]
}

/** Whose prices a sheet is made by. */
export type Prices = Pick<Shop, 'labourPerHour' | 'taxPct'>

/** What people wait for. */
export interface Clerking {
  readonly recording: {
    readonly asks: DroppedFile
    readonly answers:
      | ReadFile
      | { readonly problem: RecordingError }
      /** A chosen stretch has too few rows, in words. */
      | { readonly stretches: string }
  }
  /** The canonical text of columns in their compressed block. */
  readonly canonical: { readonly asks: Uint8Array; readonly answers: Uint8Array }
  readonly sheet: { readonly asks: { readonly file: VisitFile; readonly prices: Prices }; readonly answers: Sheet }
  readonly pdf: { readonly asks: { readonly report: PdfReport; readonly shop: Shop }; readonly answers: Uint8Array }
}

/**
 * Reads files, makes sheets and prints them in a thread of its own, beside the one that weighs in the background: whoever waits for
 * it does not wait for that, and no live row waits for either.
 */
@Injectable()
export class Clerk implements OnModuleDestroy {
  private readonly thread = new QuestionThread<Clerking>(new URL('./clerk.worker.js', import.meta.url))

  read(file: DroppedFile): Promise<Clerking['recording']['answers']> {
    // a small buffer may share its memory with others, which must not go over to the thread with it
    const bytes = new Uint8Array(file.bytes)
    return this.thread.ask('recording', { ...file, bytes }, [bytes.buffer])
  }

  canonical(columns: Uint8Array): Promise<Uint8Array> {
    return this.thread.ask('canonical', columns)
  }

  sheet(file: VisitFile, prices: Prices): Promise<Sheet> {
    return this.thread.ask('sheet', { file, prices })
  }

  pdf(report: PdfReport, shop: Shop): Promise<Uint8Array> {
    return this.thread.ask('pdf', { report, shop })
  }

  onModuleDestroy(): Promise<void> {
    return this.thread.end()
  }
}
