import type { WriteFields, WriteNoun } from '@uvula/contract'

/** How to take one write back. */
export interface Undo {
  readonly noun: WriteNoun
  readonly id: string
  readonly data: WriteFields<WriteNoun>
}

/** Nouns whose writes cannot be taken back by writing again. */
const FINAL: readonly WriteNoun[] = ['reports', 'recordings', 'photos', 'vehicles', 'runs', 'timers']

/** The last writes of each visit in this page, newest last. */
class UndoStack {
  private readonly stacks = new Map<string, Undo[]>()
  private readonly listeners = new Set<() => void>()
  private undoing = false

  readonly subscribe = (f: () => void): (() => void) => {
    this.listeners.add(f)
    return () => this.listeners.delete(f)
  }

  push(visitId: string | undefined, undo: Undo): void {
    if (!visitId || this.undoing || FINAL.includes(undo.noun)) return
    const list = this.stacks.get(visitId) ?? []
    this.set(visitId, [...list.slice(-49), undo])
  }

  private set(visitId: string, list: Undo[]): void {
    this.stacks.set(visitId, list)
    for (const f of this.listeners) f()
  }

  depth(visitId: string): number {
    return this.stacks.get(visitId)?.length ?? 0
  }

  /** Takes the last write back by handing its undo to `apply`. */
  pop(visitId: string, apply: (u: Undo) => void): void {
    const list = this.stacks.get(visitId)
    const last = list?.at(-1)
    if (!last) return
    this.set(visitId, list!.slice(0, -1))
    this.undoing = true
    apply(last)
    this.undoing = false
  }
}

export const undoStack = new UndoStack()
