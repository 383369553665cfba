import { Injectable } from '@nestjs/common'
import type { WriteNoun } from '@uvula/contract'

/** A write that was taken. */
export interface ChangeTold {
  readonly noun: WriteNoun
  /** The visit that it belongs to; undefined for what belongs to none. */
  readonly visitId?: string
  /** Its sender's key, so that who sent it knows it for its own. */
  readonly key: string
}

/** Tells whoever listens that something was written; nothing of it is kept. */
@Injectable()
export class Changes {
  private readonly listeners = new Set<(c: ChangeTold) => void>()

  onChange(listener: (c: ChangeTold) => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  tell(change: ChangeTold): void {
    for (const f of this.listeners) f(change)
  }
}
