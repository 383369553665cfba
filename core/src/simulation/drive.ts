import type { Controls } from './engine.js'

/** One stretch of a drive. */
export interface Stretch {
  readonly seconds: number
  readonly controls: Controls
  readonly gear: number
}

const stretch = (seconds: number, mode: Controls['mode'], more: Partial<Controls> = {}, gear = 0): Stretch => ({
  seconds,
  gear,
  controls: { mode, targetRpm: 0, targetKph: 0, accessoryNm: 0, ...more },
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
  stretch(14, 'road', { targetKph: 30 }, 2),
  stretch(48, 'road', { targetKph: 55 }, 4),
  stretch(52, 'road', { targetKph: 80 }, 5),
  stretch(9, 'wide', {}, 3),
  stretch(12, 'coast', {}, 4),
  stretch(16, 'road', { targetKph: 40 }, 4),
  stretch(50, 'idle'),
]

/** A drive by its name. */
export const DRIVES = { shop: SHOP_DRIVE, road: ROAD_DRIVE } as const
export type DriveName = keyof typeof DRIVES
