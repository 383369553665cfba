/** Wrong tries that cost nothing: fingers slip. */
const FREE = 5
const FIRST_WAIT_MS = 30_000
const LONGEST_WAIT_MS = 15 * 60_000
/** A place that was quiet for so long begins anew. */
const FORGOTTEN_MS = 24 * 60 * 60_000
/** Places remembered at most; beyond it the one that was quiet longest is forgotten. */
const PLACES_MOST = 1000

interface Tried {
  wrong: number
  lastMs: number
  lockedUntilMs: number
}

/**
 * Guesses at secrets, counted for each place they are made at. After five wrong ones the place waits half a minute, then twice as
 * long for each more, a quarter of an hour at most: four digits take weeks from one tablet. A try counts as wrong before it is
 * looked at, so that many at once gain nothing.
 */
export class Guesses {
  private readonly places = new Map<string, Tried>()

  constructor(private readonly free = FREE) {}

  /** Counts a try. @returns seconds that the place has to wait, when it has to: then nothing is looked at */
  begin(place: string, nowMs = Date.now()): number | undefined {
    const known = this.places.get(place)
    const t = known && nowMs - known.lastMs < FORGOTTEN_MS ? known : { wrong: 0, lastMs: nowMs, lockedUntilMs: 0 }
    if (nowMs < t.lockedUntilMs) return Math.ceil((t.lockedUntilMs - nowMs) / 1000)
    t.wrong++
    t.lastMs = nowMs
    if (t.wrong >= this.free)
      t.lockedUntilMs = nowMs + Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (t.wrong - this.free))
    this.places.delete(place)
    this.places.set(place, t)
    if (this.places.size > PLACES_MOST) this.places.delete(this.places.keys().next().value!)
    return undefined
  }

  /** It was right: the place begins anew. */
  right(place: string): void {
    this.places.delete(place)
  }
}
