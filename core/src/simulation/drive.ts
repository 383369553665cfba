/** What drives the engine at a moment. */
export interface Controls {
  /** Key off; key on, not turning; starter; then by foot or by itself. */
  readonly mode: 'off' | 'key-on' | 'crank' | 'idle' | 'speed' | 'road' | 'wide' | 'coast'
  readonly targetRpm: number
  readonly targetKph: number
  /** A/C and electrical load at the crank [N·m]. */
  readonly accessoryNm: number
  /** Slope of the road [%]. */
  readonly gradePct: number
  /** Gear, 0 neutral .. 5. */
  readonly gear: number
}

/** Standing at idle with nothing switched on. */
export const AT_IDLE: Controls = {
  mode: 'idle',
  targetRpm: 0,
  targetKph: 0,
  accessoryNm: 0,
  gradePct: 0,
  gear: 0,
}

/** One stretch of a drive. */
export interface Stretch {
  readonly seconds: number
  readonly controls: Controls
}

/** A stretch by what differs from standing at idle. */
export const stretch = (seconds: number, mode: Controls['mode'], more: Partial<Controls> = {}): Stretch => ({
  seconds,
  controls: { ...AT_IDLE, mode, ...more },
})

/** In the shop, about 5 minutes: idle, 1500, 2500, snap, idle, idle with load. */
export const SHOP_DRIVE: readonly Stretch[] = [
  stretch(70, 'idle'),
  stretch(30, 'speed', { targetRpm: 1500 }),
  stretch(32, 'speed', { targetRpm: 2500 }),
  stretch(14, 'idle'),
  stretch(1.2, 'wide'),
  stretch(14, 'idle'),
  stretch(42, 'idle', { accessoryNm: 14 }),
  stretch(70, 'idle'),
]

/** On the road, about 8 minutes: the shop's points, two speeds, one pull, deceleration, idle. */
export const ROAD_DRIVE: readonly Stretch[] = [
  ...SHOP_DRIVE,
  stretch(14, 'road', { targetKph: 30, gear: 2 }),
  stretch(48, 'road', { targetKph: 55, gear: 4 }),
  stretch(52, 'road', { targetKph: 80, gear: 5 }),
  stretch(9, 'wide', { gear: 3 }),
  stretch(12, 'coast', { gear: 4 }),
  stretch(16, 'road', { targetKph: 40, gear: 4 }),
  stretch(50, 'idle'),
]

/** A drive by its name. */
export const DRIVES = { shop: SHOP_DRIVE, road: ROAD_DRIVE } as const
export type DriveName = keyof typeof DRIVES
