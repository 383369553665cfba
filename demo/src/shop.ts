import type { Shop } from '@uvula/contract'
import type { RunEvent, VisitFile } from '@uvula/core'
import { CARS, SHOP_ALTITUDE_M } from './cars.js'
import { VisitMaker } from './maker.js'

/** The workshop: parts come up by bus on Tuesday and Friday. */
export const DEMO_SHOP: Shop = {
  name: 'Pass workshop',
  demo: true,
  altitudeM: SHOP_ALTITUDE_M,
  labourPerHour: 84,
  currency: 'crowns',
  partsDays: [2, 5],
}

/** Events of a relearn whose first wait was half a second late. */
function lateAttempt(beginMs: number): RunEvent[] {
  return [
    { kind: 'begin', atMs: beginMs },
    { kind: 'tap', atMs: beginMs + 3500 },
  ]
}

/** The demo shop as a shop file. Same day, same file, bit for bit. @param day - midnight of its "today" [ms] @param anHourAgo - start of the timer that runs [ms] */
export function demoShopFile(
  day: number,
  anHourAgo: number,
): {
  format: 'uvula-shop'
  formatVersion: 1
  shop: Shop
  visits: VisitFile[]
  blobs: { mime: string; base64: string }[]
} {
  const at = (daysAgo: number, hour: number, minute = 0): number =>
    day - daysAgo * 86_400_000 + (hour * 60 + minute) * 60_000
  const isoDay = (daysAhead: number): string => new Date(day + daysAhead * 86_400_000).toISOString().slice(0, 10)
  const ambientC = 9
  const makers = [
    // just arrived: journey 1 begins here
    new VisitMaker(CARS.vet, 'visit-vet', at(0, 9, 40), {
      intent: 'complaint',
      complaint: 'Idle hunts when warm, nearly stalls at the junction',
      signs: ['idle-hunts', 'stalls-slowing'],
      conditions: ['warm', 'ac-on'],
      ambientC,
    }),
    // measured on the road: reads low more and more with flow
    new VisitMaker(CARS.library, 'visit-library', at(0, 9, 5), {
      intent: 'complaint',
      complaint: 'Flat on take-off, thirsty since the filter was washed',
      signs: ['stumbles', 'thirsty', 'flat'],
      conditions: ['after-work'],
      ambientC,
    })
      .recorded(0, { mafErrorIdle: -0.05, mafErrorFull: -0.21 }, 'road', 21, 'library-pass-road.csv')
      .typed(0, { mafErrorIdle: -0.05, mafErrorFull: -0.21 }, ['idle'], 21)
      .looked([]),
    // half way along the pipe
    new VisitMaker(CARS.bakery, 'visit-bakery', at(0, 8, 30), {
      intent: 'complaint',
      complaint: 'Stalls when slowing for a junction',
      signs: ['stalls-slowing', 'idle-low'],
      conditions: ['warm'],
      ambientC,
    })
      .typed(0, { deposits: 0.82 }, ['idle', 'idle-load', 'hold-2500'], 33)
      .looked([], 7),
    // leak found by pinching, not yet mended
    new VisitMaker(CARS.nurse, 'visit-nurse', at(0, 8, 0), {
      intent: 'complaint',
      complaint: 'Idles too fast, lumpy',
      signs: ['idle-high', 'idle-rough', 'hiss'],
      conditions: ['warm'],
      ambientC,
    })
      .recorded(0, { leakMm2: 6.5 }, 'shop', 42, 'nurse-shop.csv')
      .typed(0, { leakMm2: 6.5 }, ['idle'], 42)
      .looked([
        { station: 'vacuum-lines', item: 'vacuum-lines.1', note: 'Cap off the spare nipple, rubber gone hard' },
      ]),
    // two leaks: one mended, the account says there is more
    new VisitMaker(CARS.choir, 'visit-choir', at(1, 13, 20), {
      intent: 'complaint',
      complaint: 'Rough, lamp on, lean',
      signs: ['idle-rough', 'lamp', 'hiss'],
      conditions: ['warm'],
      ambientC,
    })
      .typed(0, { leakMm2: 5.2 }, ['idle', 'hold-1500', 'hold-2500'], 51)
      .looked([{ station: 'pcv', item: 'pcv.1', note: 'Elbow oil-soft, split on the underside' }])
      .tried('smoke', 'pcv', 'fail', { value: 1.9, unit: 'mm²', note: 'Wisp from the elbow' })
      .tried('smoke', 'gaskets', 'unclear', { note: 'Haze behind the rail, could not see' })
      .mended('pcv', 'replace', { minutes: 30, partsPrice: 38, note: 'Warm-climate variant of the elbow' })
      .typed(1, { leakMm2: 2.7 }, ['idle', 'hold-1500', 'hold-2500'], 52)
      .felt('hiss', 'there', 1),
    // healthy: ready for the sheet
    new VisitMaker(CARS.teacher, 'visit-teacher', at(0, 10, 10), {
      intent: 'check-up',
      complaint: 'Was offered a full decarbonizing elsewhere',
      signs: [],
      conditions: [],
      ambientC,
    })
      .recorded(0, {}, 'shop', 64, 'hatchback-shop.csv')
      .typed(0, {}, ['idle'], 64)
      .looked([]),
    // low vacuum and a flow code: measured, the valve not yet tried
    new VisitMaker(CARS.quarry, 'visit-quarry', at(0, 7, 50), {
      intent: 'complaint',
      complaint: 'Lamp on, rough at idle, stalls cold',
      signs: ['lamp', 'idle-rough', 'stalls-slowing'],
      conditions: ['warm'],
      ambientC,
    })
      .recorded(0, { egrMm2: 3 }, 'shop', 71, 'quarry-shop.csv')
      .typed(0, { egrMm2: 3 }, ['idle'], 71)
      .with('codes', 'P0402', { code: 'P0402', state: 'stored', when: 'before', cleared: false })
      .looked([]),
    // a diesel whose parts another shop has quoted already: codes of airflow and exhaust gas, nothing measured of the passage
    new VisitMaker(CARS.forester, 'visit-forester', at(0, 9, 10), {
      intent: 'complaint',
      complaint: 'Lamp on, weak uphill; elsewhere a sensor and a valve were quoted',
      signs: ['lamp', 'flat'],
      conditions: ['warm'],
      ambientC,
    })
      .typed(0, { narrowed: 0.62 }, ['idle', 'hold-2500'], 77)
      .with('codes', 'P0101', { code: 'P0101', state: 'stored', when: 'before', cleared: false })
      .with('codes', 'P0401', { code: 'P0401', state: 'stored', when: 'before', cleared: false }),
    // idle far too high after somebody else's cleaning; the first attempt at teaching it came late
    new VisitMaker(CARS.warden, 'visit-warden', at(0, 10, 25), {
      intent: 'complaint',
      complaint: 'Idles at 1150 since the throttle was cleaned elsewhere',
      signs: ['idle-high'],
      conditions: ['after-work', 'warm'],
      ambientC,
    })
      .read(0, 'idle', {
        rpm: 1150,
        maf_gs: 4.1,
        stft1_pct: 0,
        ltft1_pct: 0.8,
        throttle_pct: 2.7,
        ect_c: 91,
        battery_v: 14.1,
      })
      .looked([])
      .with('codes', 'P0507', { code: 'P0507', state: 'stored', when: 'before', cleared: false })
      .with('runs', 'first', {
        procedure: 'key-pedal-relearn',
        attempt: 1,
        preconditions: ['selector', 'consumers', 'steering', 'warm', 'supply'],
        events: lateAttempt(at(0, 10, 40)),
      }),
    // in pieces on the bench: throttle off, a cloth in the manifold, drying since an hour
    new VisitMaker(CARS.sawmill, 'visit-sawmill', at(0, 8, 10), {
      intent: 'complaint',
      complaint: 'Stalls when slowing, starts badly',
      signs: ['stalls-slowing', 'hard-start'],
      conditions: ['warm'],
      ambientC,
    })
      .recorded(0, { deposits: 0.85 }, 'road', 88, 'sawmill-pass-road.csv')
      .typed(0, { deposits: 0.85 }, ['idle'], 88)
      .looked([{ station: 'throttle', item: 'throttle.1', note: 'Black ring at the plate’s edge' }])
      .with('items', 'bolts', {
        station: 'throttle',
        name: 'bolt',
        count: 4,
        drive: '8 mm socket',
        bag: 'A',
        way: 'long one at the bottom',
        arrival: 'present',
        state: 'off',
      })
      .with('items', 'gasket', { station: 'throttle', name: 'gasket', count: 1, arrival: 'broken', state: 'off' })
      .with('items', 'clamp', {
        station: 'duct',
        name: 'clamp',
        count: 1,
        drive: '7 mm hex',
        way: 'screw faces the strut',
        arrival: 'present',
        state: 'loose',
        until: 'first start',
      })
      .with('counts', 'cloth', { thing: 'cloth', station: 'throttle', putIn: 2, takenOut: 1 })
      .with('ticks', 'plate', { caution: 'throttle-plate-shuts' })
      .with('ticks', 'hot', { caution: 'belts-fan-hot-coolant' })
      .with('steps', 'throttle', {
        station: 'throttle',
        surface: 'throttle-plate',
        product: 'throttle-cleaner',
        method: 'off-the-car',
        passed: false,
      })
      .with('timers', 'battery', {
        label: 'battery off, controllers asleep',
        kind: 'battery-off',
        startedAt: new Date(anHourAgo).toISOString(),
        seconds: 5400,
        ended: false,
      }),
    // the same car a season ago: its throttles were left in balance
    new VisitMaker(CARS.hill, 'visit-hill-spring', at(171, 9, 20), {
      intent: 'check-up',
      complaint: 'Before the season',
      signs: [],
      conditions: ['warm'],
      ambientC: 11,
    })
      .read(0, 'idle', { rpm: 920, gauge_vacuum_kpa: 52.8, ect_c: 85, battery_v: 14 })
      .with('ticks', 'gas', { caution: 'exhaust-gas' })
      .with('ticks', 'moves', { caution: 'vehicle-moves' })
      .with('balances', 'first', {
        round: 0,
        taken: { kind: 'throttles', slot: 'hold-2500', layout: 'each', vacuumKpa: [60.3, 60.9, 61.2, 60.1] },
      })
      .with('balances', 'second', {
        round: 0,
        taken: { kind: 'throttles', slot: 'idle', layout: 'each', vacuumKpa: [52.4, 53.1, 52.9, 52.2] },
      })
      .looked([])
      .handedOver(DEMO_SHOP.labourPerHour),
    // four throttles after somebody else's hand: a gauge that is healthy for the height, throttles that pull unlike
    new VisitMaker(CARS.hill, 'visit-hill', at(0, 7, 10), {
      intent: 'complaint',
      complaint: 'Shakes at low speed since the linkage was off',
      signs: ['idle-rough'],
      conditions: ['after-work', 'warm'],
      ambientC,
    })
      .read(0, 'idle', { rpm: 930, gauge_vacuum_kpa: 52.4, ect_c: 86, battery_v: 13.9 })
      .read(0, 'hold-2500', { gauge_vacuum_kpa: 60.1 })
      .with('ticks', 'gas', { caution: 'exhaust-gas' })
      .with('ticks', 'moves', { caution: 'vehicle-moves' })
      .with('balances', 'needle', { round: 0, taken: { kind: 'needle', needle: 'needle.steady' } })
      .with('balances', 'first', {
        round: 0,
        taken: { kind: 'throttles', slot: 'hold-2500', layout: 'each', vacuumKpa: [60.1, 54.8, 63.4, 59.2] },
      })
      .looked([]),
    // an earlier visit with a temporary repair due
    new VisitMaker(CARS.lift, 'visit-lift-spring', at(88, 14), {
      intent: 'complaint',
      complaint: 'Hisses, idles high',
      signs: ['hiss', 'idle-high'],
      conditions: ['warm'],
      ambientC: 6,
    })
      .typed(0, { leakMm2: 7 }, ['idle', 'hold-2500'], 71)
      .looked([{ station: 'booster', item: 'booster.1', note: 'Split at the bulkhead end' }])
      .mended('booster', 'wrap', {
        temporary: true,
        recheckOn: isoDay(2),
        minutes: 12,
        partsPrice: 6,
        conditions: ['dry', 'clean', 'stretched'],
        note: 'Hose on order, none to be had before the season',
      })
      .typed(1, {}, ['idle', 'hold-2500'], 72)
      .felt('hiss', 'gone', 1)
      .felt('idle-high', 'gone', 1)
      .handedOver(DEMO_SHOP.labourPerHour),
    new VisitMaker(CARS.lift, 'visit-lift', at(0, 7, 30), {
      intent: 'complaint',
      complaint: 'Re-check of the wrapped hose; pulls badly on the pass',
      signs: ['flat'],
      conditions: [],
      ambientC,
    }).typed(0, {}, ['idle', 'hold-2500'], 73),
  ]
  return {
    format: 'uvula-shop',
    formatVersion: 1,
    shop: DEMO_SHOP,
    visits: makers.map((m) => m.file()),
    blobs: makers.flatMap((m) => m.blobs),
  }
}
