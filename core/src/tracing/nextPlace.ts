import { testInfo } from '../diagnosis/index.js'
import type { AirPath, StationId } from '../engine/index.js'
import { isShutOff, TELLS, type SiteShare } from './site.js'

/** A test that finds the place where air comes in: at one station, or anywhere at once. */
export interface PlaceTest {
  readonly test: 'pinch' | 'flex-duct' | 'smoke' | 'enrichment'
  /** Where it is done; undefined where it looks everywhere at once. */
  readonly station?: StationId
  /** Chance that it names the place [–]. */
  readonly chance: number
  readonly minutes: number
}

/** Minutes of each; a hose is reached, shut and let go, and the trim followed both ways. Smoke is set up once and shows all. */
const MINUTES: Readonly<Record<PlaceTest['test'], number>> = { pinch: 3.5, 'flex-duct': 2, smoke: 10, enrichment: 8 }
/** A marked exception, since it can start a fire: counted as slower than it is. */
const FIRE_COSTS = 3

/** How often a test that looks everywhere shows the place, from how little a pass takes away. */
const shows = (test: string): number => 1 - (TELLS[test]?.pass ?? 1)

/**
 * Tests that find the place, that which names it soonest first: the chance of a find in a minute. A hose is pinched where
 * the air most likely comes in, as long as that beats smoke through the whole of it; each place once, and none where air was found.
 *
 * @param tried - tests done already, by id and station, and whether they found it; one that looks everywhere has no station
 * @param has - whether the equipment of a test is at hand
 */
export function nextPlaces(
  path: AirPath,
  sites: readonly SiteShare[],
  tried: readonly { readonly test: string; readonly station: StationId; readonly found?: boolean }[],
  has: (test: PlaceTest['test']) => boolean = () => true,
): readonly PlaceTest[] {
  const out: PlaceTest[] = []
  const mine = tried.map((t) => ({ ...t, test: isShutOff(t.test) ? 'pinch' : t.test }))
  const done = (test: string, station?: StationId): boolean =>
    mine.some((t) => t.test === test && (station === undefined || t.station === station))
  const named = new Set(mine.flatMap((t) => (t.found && t.test in MINUTES ? [t.station] : [])))
  for (const s of sites) {
    if (named.has(s.station)) continue
    const info = path.stations.find((x) => x.info.id === s.station)?.info
    if (info?.pinchable && !done('pinch', s.station) && has('pinch'))
      out.push({
        test: 'pinch',
        station: s.station,
        chance: s.probability * shows('pinch'),
        // a test of its own where nothing is to be looked for first
        minutes: s.station === 'purge' ? testInfo('purge-pinch').minutes : MINUTES.pinch,
      })
    if (s.station === 'duct' && !done('flex-duct') && has('flex-duct'))
      out.push({
        test: 'flex-duct',
        station: 'duct',
        chance: s.probability * shows('flex-duct'),
        minutes: MINUTES['flex-duct'],
      })
  }
  const all = sites.reduce((sum, s) => sum + s.probability - (s.byValve ?? 0), 0)
  if (!done('smoke') && has('smoke')) out.push({ test: 'smoke', chance: all * shows('smoke'), minutes: MINUTES.smoke })
  if (!done('enrichment') && has('enrichment'))
    out.push({ test: 'enrichment', chance: all * shows('enrichment'), minutes: FIRE_COSTS * MINUTES.enrichment })
  return out.filter((t) => t.chance > 0.01).sort((a, b) => b.chance / b.minutes - a.chance / a.minutes)
}
