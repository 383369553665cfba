import type { LinkSample } from '@uvula/contract'

/** Half an hour at 10 Hz, and as much again: what a tablet that slept can still fetch. */
const KEPT = 40_000

/** The newest samples, numbered from 1 without a gap. */
export class SampleRing {
  private samples: LinkSample[] = []

  get seq(): number {
    return this.samples.at(-1)?.seq ?? 0
  }

  add(t: number, values: LinkSample['values']): void {
    this.samples.push({ seq: this.seq + 1, t, values })
    // in larger pieces, so that not every sample moves the rest
    if (this.samples.length > KEPT * 1.1) this.samples = this.samples.slice(-KEPT)
  }

  /** Samples after a number, the oldest first, at most `most`. */
  after(seq: number, most: number): readonly LinkSample[] {
    const from = Math.max(0, this.samples.length - (this.seq - seq))
    return this.samples.slice(from, from + most)
  }
}
