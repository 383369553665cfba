// Outcomes of tests on simulated cars: what a careful technician would find, by what the car carries and not by the
// diagnosis's own catalogue of shares.
import { seededRandom, type FaultId, type Finding, type SimulatedFaults } from '@uvula/core'

/** Share of finds that are missed, and of sound parts that are called bad. */
const MISSED = 0.1
const IMAGINED = 0.05

const BEHIND: readonly FaultId[] = ['unmetered-air', 'unmetered-air-bank']
/** Classes that each test can find; a size, where the test needs one, is asked of what the car carries. */
const SHOWS: Readonly<Record<string, (fault: FaultId, carried: SimulatedFaults) => boolean>> = {
  look: (f, c) => (BEHIND.includes(f) && c.leakMm2 > 6) || (f === 'unmetered-air-duct' && c.ductLeakMm2 > 150),
  'flex-duct': (f) => f === 'unmetered-air-duct',
  pinch: (f, c) => ['purge-stuck-open', 'pcv-stuck-open'].includes(f) || (f === 'unmetered-air' && c.leakMm2 % 1 < 0.5),
  'purge-pinch': (f) => f === 'purge-stuck-open',
  'purge-hold': (f) => f === 'purge-stuck-open',
  smoke: (f) => BEHIND.includes(f) || f === 'unmetered-air-duct' || f === 'boost-leak',
  enrichment: (f, c) => f === 'unmetered-air-bank' || (f === 'unmetered-air' && c.leakMm2 % 1 < 0.6),
  'maf-key-on': () => false,
  'maf-look': (f, c) => f.startsWith('maf-') && Math.abs(c.mafErrorFull) % 0.02 < 0.012,
  'maf-unplugged': (f, c) => f.startsWith('maf-') && Math.abs(c.mafErrorFull) > 0.1,
  'map-key-on': (f) => f === 'map-sensor-offset',
  'gauge-idle': (f) => ['valve-timing-late', 'exhaust-restriction', 'egr-open-at-idle', 'weak-cylinder'].includes(f),
  'temperatures-cold': (f) => f === 'temperature-sensor-implausible',
  'filter-look': (f) => f === 'intake-restriction',
  'fuel-pressure': (f, c) => f === 'fuel-delivery-low' || (f === 'fuel-delivery-high' && c.fuelErrorFull > 0),
  'oxygen-sensor-swing': (f, c) => f === 'oxygen-sensor-biased' && Math.abs(c.oxygenBias1) > 0.055,
  'exhaust-leak-look': (f) => f === 'exhaust-leak',
  'back-pressure': (f) => f === 'exhaust-restriction',
  'boost-decay': (f) => f === 'boost-leak',
  'pcv-grommet': (f) => f.startsWith('pcv-'),
  'oil-cap': (f) => f.startsWith('pcv-'),
  'pcv-rattle': (f, c) => f === 'pcv-blocked' && c.ventBlocked > 0.9,
  'egr-hand-pump': (f) => f.startsWith('egr-'),
  'egr-passage-look': (f) => f.startsWith('egr-'),
  'idle-valve-sweep': (f) => f === 'idle-valve-stuck',
  'throttle-look': (f) => f === 'throttle-deposits',
  'misfire-count': (f) => f === 'ignition-misfire',
  // its engines count their misfires
  'cylinder-drop': () => false,
  compression: (f) => f === 'weak-cylinder',
  'cam-timing': (f) => f === 'valve-timing-late',
  'valve-borescope': (f) => f === 'valve-deposits',
  'cylinder-pull': (f) => f === 'weak-cylinder' || f === 'runner-restriction',
  // none of its cars has its sensors crossed
  'oxygen-sensor-plugs': () => false,
  'runner-look': (f) => f === 'runner-restriction',
  'temperatures-warm': (f) => f === 'temperature-sensor-implausible',
}

/** Which of its unlike finds a test makes of a class, told right as often as it is found; of what is imagined any. */
const SEEN_AS: Readonly<Record<string, Readonly<Partial<Record<FaultId, string>>>>> = {
  'fuel-pressure': { 'fuel-delivery-low': 'too-low', 'fuel-delivery-high': 'too-high' },
  'pcv-grommet': { 'pcv-blocked': 'no-pull', 'pcv-stuck-open': 'strong-pull' },
  'oil-cap': { 'pcv-blocked': 'pressure', 'pcv-stuck-open': 'hard-suck' },
  'egr-hand-pump': { 'egr-no-flow': 'no-stumble', 'egr-open-at-idle': 'no-recovery' },
  'egr-passage-look': { 'egr-no-flow': 'passage-blocked', 'egr-open-at-idle': 'does-not-shut' },
}

/** Outcome of a test on a case, the same whenever it is asked. */
export function outcomeOf(
  test: string,
  one: { readonly i: number; readonly fault: FaultId; readonly carried?: SimulatedFaults },
): Finding {
  const at = Object.keys(SHOWS).indexOf(test)
  if (at < 0) throw new Error(`the bench has no outcome for the test "${test}"`)
  const random = seededRandom(7 + one.i * 613 + at * 7129)
  for (let i = 0; i < 4; i++) random()
  const there = one.fault !== 'none' && one.carried !== undefined && SHOWS[test](one.fault, one.carried)
  const found = there ? random() >= MISSED : random() < IMAGINED
  if (!found) return { test, outcome: 'pass' }
  const kinds = Object.values(SEEN_AS[test] ?? {})
  if (!kinds.length) return { test, outcome: 'fail' }
  const right = there ? SEEN_AS[test][one.fault] : undefined
  return {
    test,
    outcome: 'fail',
    item: right && random() >= MISSED ? right : kinds[Math.floor(random() * kinds.length)],
  }
}
