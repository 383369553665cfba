import type { ProductId } from './products.js'
import type { SurfaceId } from './surfaces.js'

/** Kinds of work in a wash. */
export type WashStageId =
  | 'shut'
  | 'soften'
  | 'soak'
  | 'blast'
  | 'scrape'
  | 'scrub'
  | 'flush'
  | 'rinse'
  | 'draw-out'
  | 'dry'
  | 'oil'
  | 'settle'
  | 'sweep'
  | 'inspect'

/** One stage of a wash. */
export interface WashStage {
  readonly id: WashStageId
  readonly label: string
  readonly how: string
  /** Classes that fit it; what may touch the surface at all where left out. */
  readonly products?: readonly ProductId[]
  /** Time that it takes by itself [s]; a soak may run for a day. */
  readonly seconds?: number
  /** Done for each cylinder, one after the other. */
  readonly perCylinder?: boolean
  /** The surface has no end before it is done. */
  readonly must?: boolean
  /** A weight that is typed [g]. */
  readonly weighed?: boolean
}

/** What was done of a wash. */
export interface StageDone {
  readonly id: WashStageId
  /** When, ISO. */
  readonly at: string
  readonly cylinder?: number
  readonly product?: ProductId
  /** A weight [g], where the stage has one. */
  readonly value?: number
}

const stage = (id: WashStageId, label: string, how: string, more: Partial<WashStage> = {}): WashStage => ({
  id,
  label,
  how,
  ...more,
})

const inspect = stage('inspect', 'look', 'by its end test, with a photo')
const dry = (seconds: number, how = 'by air without heat'): WashStage => stage('dry', 'dry', how, { seconds })
const rinse = stage('rinse', 'rinse', 'until what runs off is clear; rinsings into the tray', { must: true })

/** A day, and the shortest soak of a crust [s]. */
const SOAK_S = 4 * 3600

const METAL: readonly WashStage[] = [
  stage('soften', 'soften', 'wet all of the crust', {
    products: ['degreaser-water', 'throttle-cleaner', 'soot-remover'],
  }),
  stage('soak', 'soak', 'covered, overnight where it is thick', { seconds: SOAK_S }),
  stage('scrape', 'scrape', 'what has let go, outward', { products: ['plastic-scraper', 'brass-brush'] }),
  stage('scrub', 'scrub', 'down to bare wall', { products: ['soft-brush-cloth', 'brass-brush', 'metal-brush'] }),
  rinse,
  dry(1800),
  inspect,
]

/** Stages of a wash by surface; a surface without a row of its own is wiped, dried and looked at. */
const WASHES: Readonly<Partial<Record<SurfaceId, readonly WashStage[]>>> = {
  'airflow-element': [
    stage('flush', 'spray', 'ten short bursts through every opening, from a hand’s width; nothing touches it', {
      products: ['airflow-cleaner'],
    }),
    dry(900, 'lying, openings down; no air line, no heat, no power'),
    inspect,
  ],
  'airflow-vane': [
    stage('scrub', 'wipe', 'bore and vane, the vane held by its edge and never bent', {
      products: ['soft-brush-cloth', 'throttle-cleaner'],
    }),
    stage('sweep', 'move it', 'by a finger, its whole way, three times; nothing catches'),
    dry(600),
    inspect,
  ],
  'temperature-sensor': [
    stage('flush', 'spray', 'short bursts at the element; nothing touches it', { products: ['airflow-cleaner'] }),
    dry(600),
    inspect,
  ],
  'pressure-sensor-port': [
    stage('flush', 'spray', 'port facing down, short bursts, let run out; nothing poked inward', {
      products: ['airflow-cleaner', 'contact-cleaner'],
    }),
    dry(600, 'port facing down; no air line'),
    inspect,
  ],
  'vent-valve': [
    stage('scrub', 'wipe', 'seat, spring and ends, opening down; a torn diaphragm is renewed, not cleaned', {
      products: ['soft-brush-cloth', 'throttle-cleaner'],
    }),
    stage(
      'sweep',
      'move it',
      'pushed open and let shut until it moves freely; shaken, it rattles where it is a plunger',
    ),
    dry(600),
    inspect,
  ],
  connector: [
    stage('flush', 'spray', 'key out; pins and seal, nothing bent, nothing left on the seal', {
      products: ['contact-cleaner'],
    }),
    dry(600),
    inspect,
  ],
  'gasket-face': [
    stage('scrape', 'lift what is left', 'ports closed with counted cloths; plastic first, outward', {
      products: ['plastic-scraper'],
    }),
    stage('scrub', 'wipe', 'a cloth wet with cleaner, away from the ports', {
      products: ['soft-brush-cloth', 'brake-cleaner'],
    }),
    inspect,
  ],
  'throttle-plate': [
    stage('soften', 'wet', 'cloth wet with cleaner along edge and seat', { products: ['throttle-cleaner'] }),
    stage('scrub', 'wipe', 'both faces, edge and ring; a soft brush in the corner', { products: ['soft-brush-cloth'] }),
    stage(
      'sweep',
      'move it',
      'plate opened and let shut by hand where it has a cable, by command where it has a motor',
    ),
    dry(300),
    inspect,
  ],
  'throttle-coated': [stage('scrub', 'wipe', 'dry cloth, edge only', { products: ['soft-brush-cloth'] }), inspect],
  'idle-valve': [
    stage('soften', 'wet', 'sparingly, opening down, so that nothing runs into the drive', {
      products: ['throttle-cleaner'],
    }),
    stage('scrub', 'wipe', 'seat and pintle', { products: ['soft-brush-cloth'] }),
    dry(600),
    stage('sweep', 'sweep', 'by command, from end to end, three times'),
    inspect,
  ],
  'manifold-aluminium': METAL,
  'sooted-metal': METAL,
  'manifold-plastic': [
    stage('soften', 'soften', 'warm water and soap, never solvent', { products: ['water-soap', 'degreaser-water'] }),
    stage('soak', 'soak', 'an hour; plastic swells in anything stronger', { seconds: 3600 }),
    stage('scrub', 'scrub', 'soft brush, all runners', { products: ['soft-brush-cloth'] }),
    rinse,
    dry(1800),
    inspect,
  ],
  'manifold-flaps': [
    stage('soften', 'soften', 'flaps and shaft, drive out of it', { products: ['soot-remover'] }),
    stage('scrub', 'scrub', 'round each flap', { products: ['soft-brush-cloth'] }),
    rinse,
    dry(1800),
    stage('sweep', 'sweep', 'by hand, then by command, before it is closed', { must: true }),
    inspect,
  ],
  'intake-valves': [
    stage(
      'shut',
      'valves shut',
      'this cylinder turned by hand to the top of its compression: both valves shut; neighbours’ ports closed',
      {
        perCylinder: true,
        must: true,
      },
    ),
    stage('blast', 'blast or soak', 'soft media through its own nozzle, or solvent poured on the shut valve and left', {
      perCylinder: true,
      must: true,
      products: ['soft-media', 'carburettor-solvent'],
    }),
    stage('draw-out', 'draw out', 'everything vacuumed out, light down to the seat, before anything turns', {
      perCylinder: true,
      must: true,
    }),
    inspect,
  ],
  'egr-cooler': [
    stage('soften', 'soften', 'gas side only, filled and closed', { products: ['soot-remover'] }),
    stage('soak', 'soak', 'overnight where it is choked', { seconds: SOAK_S }),
    stage('flush', 'flush', 'against the flow', { products: ['degreaser-water'] }),
    rinse,
    dry(3600),
    inspect,
  ],
  intercooler: [
    stage('flush', 'flush', 'degreaser in, turned, drained at its low point', { products: ['degreaser-water'] }),
    rinse,
    dry(3600, 'air outward from the inlet side, then standing'),
    inspect,
  ],
  separator: [
    stage('flush', 'flush', 'through its drain', { products: ['degreaser-water', 'water-soap'] }),
    rinse,
    dry(1800),
    inspect,
  ],
  'filter-washable': [
    stage('dry', 'tap it dry', 'loose dirt knocked out, clean side up'),
    stage('soak', 'soak', 'in its own cleaner', { seconds: 600, products: ['filter-cleaner', 'water-soap'] }),
    stage('flush', 'flush', 'low pressure, from the clean side outward', { must: true }),
    stage('settle', 'dry through', 'standing, by air without heat; weigh it dry', {
      seconds: 3600,
      must: true,
      weighed: true,
    }),
    stage('oil', 'oil', 'a thin line along each fold; weigh it again: the label’s grams, no more', {
      must: true,
      weighed: true,
    }),
    stage('sweep', 'let it draw in', 'twenty minutes, then touch up what is pale', { seconds: 1200 }),
    stage('inspect', 'seat it', 'even colour, rim greased, no oil on the clean side'),
  ],
}

/** Stages of a surface's wash, in their order. */
export const washOf = (surface: SurfaceId, drySeconds: number): readonly WashStage[] =>
  WASHES[surface] ?? [
    stage('scrub', 'clean', 'with the weakest that may touch it'),
    ...(drySeconds > 0 ? [dry(drySeconds)] : []),
    inspect,
  ]

/** Whether a stage is done, at one cylinder where it is done for each. */
export const stageDone = (done: readonly StageDone[], id: WashStageId, cylinder?: number): boolean =>
  done.some((d) => d.id === id && (cylinder === undefined || d.cylinder === cylinder))

/** Why a stage may not be done now; undefined where it may. A port is opened only once the last one is drawn out. */
export function stageRefused(
  done: readonly StageDone[],
  stages: readonly WashStage[],
  id: WashStageId,
  cylinder?: number,
): string | undefined {
  const each = stages.filter((s) => s.perCylinder)
  if (cylinder === undefined || !each.some((s) => s.id === id)) return undefined
  const open = done
    .map((d) => d.cylinder)
    .find((c) => c !== undefined && c !== cylinder && stageDone(done, 'shut', c) && !stageDone(done, 'draw-out', c))
  if (open !== undefined) return `Cylinder ${open} is not drawn out yet: turning the engine now takes it in.`
  const before = each.slice(
    0,
    Math.max(
      0,
      each.findIndex((s) => s.id === id),
    ),
  )
  const missing = before.find((s) => !stageDone(done, s.id, cylinder))
  return missing && `Cylinder ${cylinder}: ${missing.label} comes first.`
}

/** Stages without which a surface has no end, that are not done yet. */
export function stagesOwed(
  done: readonly StageDone[],
  stages: readonly WashStage[],
  cylinders: number,
): readonly { readonly stage: WashStage; readonly cylinder?: number }[] {
  return stages
    .filter((s) => s.must)
    .flatMap((s) =>
      s.perCylinder
        ? Array.from({ length: cylinders }, (_, k) => k + 1)
            .filter((c) => !stageDone(done, s.id, c))
            .map((cylinder) => ({ stage: s, cylinder }))
        : stageDone(done, s.id)
          ? []
          : [{ stage: s }],
    )
}

/** Oil of a washable filter against its label [g]. */
export interface FilterOil {
  readonly oilG: number
  readonly over: boolean
  readonly said: string
}

/** What a filter was oiled with, from its two weights. @param labelG - the label's most [g]; 25 where nobody has read it */
export function filterOil(dryG: number, oiledG: number, labelG = 25): FilterOil {
  const oilG = oiledG - dryG
  const over = oilG > labelG
  return {
    oilG,
    over,
    said: over
      ? `${oilG.toFixed(0)} g of oil where ${labelG.toFixed(0)} g belong: what is too much goes on to film the airflow sensor. Let it drain, weigh it again.`
      : oilG <= 0
        ? 'It weighs no more than dry: not oiled, or weighed wet before.'
        : `${oilG.toFixed(0)} g of oil, of ${labelG.toFixed(0)} g at most.`,
  }
}
