import { AT_IDLE, type Controls } from '@uvula/core'

/** What a driver can ask of the car. */
export const FEET = ['off', 'key-on', 'start', 'idle', 'load', 'hold', 'snap', 'cruise', 'pull', 'coast'] as const
export type FootKind = (typeof FEET)[number]

export interface Foot {
  readonly kind: FootKind
  /** Held speed [rev/min], for `hold`; 2500 when left out. */
  readonly rpm?: number
  /** Road speed [km/h], for `cruise`; 60 when left out. */
  readonly kph?: number
}

/** How long the starter turns and how long a snap lasts [s]. */
export const START_S = 1.6
export const SNAP_S = 1.2
const ACCESSORY_NM = 14

/** Controls for what the driver asks. */
export function controlsOf(foot: Foot): Controls {
  switch (foot.kind) {
    case 'off':
    case 'key-on':
      return { ...AT_IDLE, mode: foot.kind }
    case 'start':
      return { ...AT_IDLE, mode: 'crank' }
    case 'idle':
      return AT_IDLE
    case 'load':
      return { ...AT_IDLE, accessoryNm: ACCESSORY_NM }
    case 'hold':
      return { ...AT_IDLE, mode: 'speed', targetRpm: foot.rpm ?? 2500 }
    case 'snap':
      return { ...AT_IDLE, mode: 'wide' }
    case 'cruise': {
      const kph = foot.kph ?? 60
      return { ...AT_IDLE, mode: 'road', targetKph: kph, gear: kph < 40 ? 2 : kph < 70 ? 4 : 5 }
    }
    case 'pull':
      return { ...AT_IDLE, mode: 'wide', gear: 3 }
    case 'coast':
      return { ...AT_IDLE, mode: 'coast', gear: 4 }
  }
}

/** What comes by itself after a time: the starter lets go, a snap ends. */
export const after = (kind: FootKind): number | undefined =>
  kind === 'start' ? START_S : kind === 'snap' ? SNAP_S : undefined

/** Reads "hold 1500", "cruise 60", "idle". @returns undefined when it is none */
export function parseFoot(text: string): Foot | undefined {
  const [word, figure] = text.trim().toLowerCase().split(/\s+/)
  const kind = FEET.find((f) => f === word)
  if (!kind) return undefined
  const x = figure === undefined ? undefined : Number(figure)
  if (kind === 'hold') return x === undefined || (x >= 600 && x <= 5000) ? { kind, rpm: x } : undefined
  if (kind === 'cruise') return x === undefined || (x >= 15 && x <= 130) ? { kind, kph: x } : undefined
  return figure === undefined ? { kind } : undefined
}
