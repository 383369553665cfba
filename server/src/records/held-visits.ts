import { VISIT_NOUNS, type VisitFile, type VisitNoun } from '@uvula/core'
import type { ChangeTold } from './changes.js'

/** Visits that are held at most: the bay's and those at hand. */
const MOST = 200

interface Held {
  readonly file: VisitFile
  /** Lists that were written to since; none with a visit that was written to itself, undefined where nothing was. */
  readonly changed?: ReadonlySet<VisitNoun>
}

/** Visits as they were read last, with what was written to each since. */
export class HeldVisits {
  private readonly held = new Map<string, Held>()
  private count = 0

  /** What is held of a visit; where something was written to it, the visit and its car have to be read again as well. */
  get(id: string): Held | undefined {
    return this.held.get(id)
  }

  /** Stands for this moment: what is read from now on may be held, unless something was written meanwhile. */
  mark(): number {
    return this.count
  }

  /** @param stands - the mark from before they were read */
  hold(files: readonly VisitFile[], stands: number): void {
    if (stands !== this.count) return
    for (const file of files) {
      this.held.delete(file.visit.id)
      this.held.set(file.visit.id, { file })
    }
    // those asked for longest ago go
    for (const id of this.held.keys()) {
      if (this.held.size <= MOST) break
      this.held.delete(id)
    }
  }

  /** Something was written and is on the disk. */
  written({ noun, visitId }: ChangeTold): void {
    this.count++
    // a car stands in each of its visits
    if (noun === 'vehicles' || visitId === undefined) return this.held.clear()
    const known = this.held.get(visitId)
    if (!known) return
    const lists = VISIT_NOUNS.filter((n) => n === noun)
    this.held.set(visitId, { file: known.file, changed: new Set([...(known.changed ?? []), ...lists]) })
  }
}
