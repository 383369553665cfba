/** A caution: the danger and the rule, and what to do if it has happened. */
export interface Caution {
  /** What a technician's tick of it is kept by; seen to once a visit it holds wherever it is asked. */
  readonly id: string
  /** A STOP needs that tick before its step can run; any other is read. */
  readonly stop: boolean
  readonly text: string
  readonly ifHappened: string
}

/**
 * Every caution that stands at a step or a test. Ids are kept with visits and never renamed; those of one kind of test
 * begin with `test-`. Local codes, the maker's information and the label win.
 */
export const CAUTIONS = {
  'throttle-plate-shuts': {
    id: 'throttle-plate-shuts',
    stop: true,
    text: 'A throttle plate shuts on fingers, by its motor or its spring: key out and away, its connector off, props soft and counted.',
    ifHappened: 'never force it back; command it open or take it off.',
  },
  'belts-fan-hot-coolant': {
    id: 'belts-fan-hot-coolant',
    stop: true,
    text: 'Belts, fan, hot coolant: engine off, cooled, pressure released before the first fastener. Neutral or park, brake, start-stop off.',
    ifHappened: 'cool a scald under water for twenty minutes; engine off before reaching in.',
  },
  'turned-by-hand': {
    id: 'turned-by-hand',
    stop: true,
    text: 'A finger in a port while the engine turns is lost, and what lies there is drawn in: key out and away, battery negative off, turned by hand only. Media: eyes, lungs and neighbours’ ports covered.',
    ifHappened: 'stop turning, never back; what fell in is drawn out before anything moves.',
  },
  'exhaust-gas': {
    id: 'exhaust-gas',
    stop: true,
    text: 'Exhaust gas kills in a closed bay: extraction on or open air before the engine runs.',
    ifHappened: 'out into the open at once, everybody; engine off from where the air is good; call for help.',
  },
  'vehicle-moves': {
    id: 'vehicle-moves',
    stop: true,
    text: 'The car moves or starts itself: neutral or park, brake, chocks, start-stop and hybrid held by their procedure; hands and sleeves clear of belts and fan.',
    ifHappened: 'key off; nobody before or behind it until it stands.',
  },
  'road-test': {
    id: 'road-test',
    stop: true,
    text: 'One drives, another records, or the recording runs by itself: nobody taps while driving. Local law and the road decide what of it is driven. A flashing lamp, a knock or a rising temperature ends it.',
    ifHappened: 'foot off, pull over, engine off; it is not driven back with a flashing lamp.',
  },
  'test-fuel-line': {
    id: 'test-fuel-line',
    stop: true,
    text: 'Fuel line: depressurise, cool, extinguisher at hand; never crack a high-pressure line.',
    ifHappened: 'Engine off, ignition off, soak up, air the bay before anything electrical.',
  },
  'test-hot-and-turning': {
    id: 'test-hot-and-turning',
    stop: true,
    text: 'Hot parts, belts and fan: engine warm and running, sleeves clear.',
    ifHappened: 'Engine off; cool a burn under water.',
  },
  'test-smoke': {
    id: 'test-smoke',
    stop: false,
    text: 'Low regulated pressure, lower still where the fuel vapour system hangs on it; not into a hot or running engine.',
    ifHappened: 'Stop the supply, open the filter box, let it clear.',
  },
  'test-hot-exhaust': {
    id: 'test-hot-exhaust',
    stop: true,
    text: 'Hot exhaust, belts and fan; extraction on.',
    ifHappened: 'Engine off; cool a burn under water.',
  },
  'test-flex-duct': {
    id: 'test-flex-duct',
    stop: true,
    text: 'Belts and fan: sleeves clear, hands on the duct only.',
    ifHappened: 'Engine off before reaching for anything dropped.',
  },
  'test-enrichment': {
    id: 'test-enrichment',
    stop: true,
    text: 'It can start a fire: cold surfaces, no spark, extinguisher in hand, gas shut off between joints. A marked exception.',
    ifHappened: 'Shut the gas, engine off, extinguisher; do not lift the bonnet further.',
  },
  'test-oxygen-sensor-swing': {
    id: 'test-oxygen-sensor-swing',
    stop: true,
    text: 'Gas can start a fire: a touch only, no spark, nothing glowing near, extinguisher in hand; belts and fan clear.',
    ifHappened: 'Shut the gas, engine off, extinguisher; do not lift the bonnet further.',
  },
  'test-boost-decay': {
    id: 'test-boost-decay',
    stop: true,
    text: 'Compressed air: eyes covered, regulator, caps tied, never above the charge pressure.',
    ifHappened: 'Shut the supply, bleed before opening.',
  },
  'test-egr-passage-look': {
    id: 'test-egr-passage-look',
    stop: true,
    text: 'Hot coolant and exhaust parts: cold, pressure off.',
    ifHappened: 'Cool a burn under water; refill and bleed what ran out.',
  },
  'test-misfire-count': {
    id: 'test-misfire-count',
    stop: true,
    text: 'High tension: a coil comes off with the engine stopped and never by a bare hand; unburnt fuel heats the catalyst, so seconds only, never on a flashing lamp.',
    ifHappened: 'After a shock: stop, and see a doctor even if it seems nothing.',
  },
  'test-compression': {
    id: 'test-compression',
    stop: true,
    text: 'Ignition and fuel disabled, clear of the crank; plugs out means spray: no spark, stand clear.',
    ifHappened: 'Stop cranking; air the bay.',
  },
} as const satisfies Readonly<Record<string, Caution>>

export type CautionId = keyof typeof CAUTIONS
