import { median, theilSenSlope } from '../statistics/index.js'

/** Speed of the idle at a moment of watching it. */
export interface IdleSample {
  /** [s] since watching began. */
  readonly s: number
  readonly rpm: number
}

/** What the watched idle says. */
export interface Settling {
  readonly state: 'too-short' | 'moving' | 'inside' | 'high' | 'low'
  readonly watchedS: number
  /** Where it stands now, middle of the last minute [rpm]. */
  readonly rpm: number
  /** How it moves [rpm a minute]. */
  readonly slope: number
  /** Minutes until its band, where it moves towards it. */
  readonly minutesLeft?: number
  readonly say: string
}

/** An idle is watched at least so long [s], and by so many figures. */
export const WATCH_LEAST_S = 180
const SAMPLES_LEAST = 4
/** Last stretch that says where it stands, and how it moves [s]. */
const LAST_S = 60
const TREND_S = 150
/** It stands when it moves no more than this [rpm a minute]. */
const STANDS = 12

/**
 * Settle and decide: where the idle stands, whether it still moves, and what follows from it.
 * @param band - where this engine's idle belongs [rpm]
 * @param stop - how near idle control is to a stop, where that is known
 */
export function settling(
  samples: readonly IdleSample[],
  band: { readonly min: number; readonly max: number },
  stop?: 'shut' | 'open',
): Settling {
  const sorted = [...samples].sort((a, b) => a.s - b.s)
  const end = sorted.at(-1)?.s ?? 0
  const watchedS = end - (sorted.at(0)?.s ?? 0)
  const last = sorted.filter((x) => x.s >= end - LAST_S).map((x) => x.rpm)
  const rpm = last.length ? median(last) : 0
  const slope = 60 * theilSenSlope(sorted.filter((x) => x.s >= end - TREND_S).map(({ s, rpm: y }) => ({ x: s, y })))
  const base = { watchedS, rpm, slope }
  if (sorted.length < SAMPLES_LEAST || watchedS < WATCH_LEAST_S)
    return {
      ...base,
      state: 'too-short',
      say: `Watched for ${(watchedS / 60).toFixed(1)} of ${WATCH_LEAST_S / 60} minutes: no decision yet.`,
    }
  const off = rpm > band.max ? rpm - band.max : rpm < band.min ? rpm - band.min : 0
  if (Math.abs(slope) > STANDS) {
    const towards = off !== 0 && Math.sign(slope) === -Math.sign(off)
    const minutesLeft = towards ? Math.abs(off / slope) : undefined
    const said = `${rpm.toFixed(0)} rpm, ${slope > 0 ? 'rising' : 'falling'} by ${Math.abs(slope).toFixed(0)} a minute`
    return {
      ...base,
      state: 'moving',
      ...(minutesLeft === undefined ? {} : { minutesLeft }),
      say: towards
        ? `${said}: it learns by itself. Its band is about ${Math.max(1, Math.ceil(minutesLeft!))} min away; wait.`
        : `${said}: it has not settled. Watch on, nothing switched on or off.`,
    }
  }
  const where = `It stands at ${rpm.toFixed(0)} rpm, ${band.min} to ${band.max} belongs`
  if (off === 0) return { ...base, state: 'inside', say: `${where}. Nothing needs to be taught.` }
  if (off > 0)
    return {
      ...base,
      state: 'high',
      say:
        stop === 'shut'
          ? `${where}, and idle control is nearly shut: that is air past it before it is learning. Find the air, then teach.`
          : `${where}: it does not come down by itself. Teach it.`,
    }
  return {
    ...base,
    state: 'low',
    say:
      stop === 'open'
        ? `${where}, and idle control is nearly fully open: too little air comes past it, or the engine is weak. Teaching gives no air.`
        : `${where}: it does not come up by itself. Teach it, loads off.`,
  }
}

/** What is wrong with watched figures, in words. */
export function idleSamplesProblem(samples: unknown): string | undefined {
  if (!Array.isArray(samples) || !samples.length || samples.length > 2000)
    return 'An idle is kept by 1 to 2000 figures.'
  const wrong = (samples as Partial<IdleSample>[]).some(
    (x) =>
      typeof x?.s !== 'number' ||
      typeof x.rpm !== 'number' ||
      !(x.s >= 0 && x.s <= 7200) ||
      !(x.rpm >= 0 && x.rpm <= 6000),
  )
  return wrong ? 'Each figure has its second, 0 to 7200, and its speed, 0 to 6000 rpm.' : undefined
}
