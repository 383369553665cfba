import type { Vehicle } from '../engine/index.js'
import { PERIOD_S } from './mixture.js'

/** Where the idle opening may go: by plate or by valve, as shares of full opening. */
interface Authority {
  /** Learnt position of a new engine, and its bounds. */
  readonly start: number
  readonly max: number
  /** What the control takes from and adds to the learnt position, at most. */
  readonly down: number
  readonly up: number
  /** Gain per 1000 rpm. */
  readonly gain: number
}

const BY_PLATE: Authority = { start: 0.03, max: 0.16, down: 0.006, up: 0.06, gain: 0.06 }
/** Valve lift in place of a plate: a little more of its travel for the same air. */
const BY_LIFT: Authority = { ...BY_PLATE, start: 0.045 }
const BY_VALVE: Authority = { start: 0.4, max: 0.9, down: 0.12, up: 0.5, gain: 1 }
/** How fast the learnt position follows in a car that is driven [1/s]. */
const LEARN_PER_S = 1 / 90

/**
 * Idle speed by air: a learnt opening and a fast part on top. After cleaning, the learnt part still opens past deposits
 * that are gone: the fast part alone cannot close far enough, and idle is high until it has been learnt again.
 */
export class IdleControl {
  learnt: number
  /** Integral part [share]. */
  fast = 0
  /** Since the foot came off [s]. */
  private sinceS = 0
  readonly authority: Authority

  constructor(v: Vehicle) {
    this.authority = v.idleControl === 'idle-valve' ? BY_VALVE : v.loadControl === 'valve-lift' ? BY_LIFT : BY_PLATE
    this.learnt = this.authority.start
  }

  /** Back to the position of a new engine. */
  reset(): void {
    this.learnt = this.authority.start
    this.fast = 0
  }

  /** The foot has come off: speed comes down on its own before the control takes hold. */
  enter(): void {
    this.sinceS = 0
  }

  /**
   * Opening for one period.
   * @param errorRpm - wanted − actual [rpm]
   * @param hurry - learning speed against a driven car's; 0 holds what is learnt
   */
  step(errorRpm: number, hurry: number): number {
    const { gain, max, down, up } = this.authority
    this.sinceS += PERIOD_S
    const error = Math.max(-0.3, errorRpm / 1000)
    // on the way down from a higher speed the control holds: winding down there would stall
    const rate = error < -0.1 && this.sinceS < 4 ? 0 : 0.9
    const low = Math.max(-down, -this.learnt)
    this.fast = Math.min(up, Math.max(low, this.fast + error * gain * rate * PERIOD_S))
    const atEnd = hurry > 1 && this.fast === low
    if (hurry > 0 && (Math.abs(error) < 0.15 || atEnd)) {
      const moved = this.fast * Math.min(0.1, LEARN_PER_S * hurry * PERIOD_S)
      this.learnt = Math.min(max, Math.max(0, this.learnt + moved))
      this.fast -= moved
    }
    // a dashpot: closing faster than a third of the opening would throw the speed below its target
    const push = Math.max(error * gain * 0.8, -0.35 * this.learnt)
    return Math.min(max, Math.max(0, this.learnt + this.fast + push))
  }

  /** How much of the way to each end is left, 0..1 of the whole reach; the lower end first. */
  get room(): { readonly down: number; readonly up: number } {
    const at = this.learnt + this.fast
    const low = Math.max(0, this.learnt - this.authority.down)
    const high = Math.min(this.authority.max, this.learnt + this.authority.up)
    const all = Math.max(1e-9, high - low)
    return { down: (at - low) / all, up: (high - at) / all }
  }
}
