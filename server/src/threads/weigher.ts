import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import type { FaultId, SoundOf, SoundRecord, VisitFile } from '@uvula/core'
import { QuestionThread } from './question-thread.js'

/** What is weighed in the background. */
export interface Weighing {
  /** The cause that the visit confirmed; null without one. */
  readonly confirmed: { readonly asks: VisitFile; readonly answers: FaultId | null }
  /** What a car's visits say of it when it was sound; null without such a one. */
  readonly sound: {
    readonly asks: { readonly visits: readonly VisitFile[]; readonly of: SoundOf }
    readonly answers: SoundRecord | null
  }
}

/** Diagnoses stored visits in a thread of its own: a tenth of a second each, which no live row may wait for. */
@Injectable()
export class Weigher implements OnModuleDestroy {
  private readonly thread = new QuestionThread<Weighing>(new URL('./weigher.worker.js', import.meta.url))

  confirmed(visit: VisitFile): Promise<FaultId | null> {
    return this.thread.ask('confirmed', visit)
  }

  sound(visits: readonly VisitFile[], of: SoundOf): Promise<SoundRecord | null> {
    return this.thread.ask('sound', { visits, of })
  }

  onModuleDestroy(): Promise<void> {
    return this.thread.end()
  }
}
