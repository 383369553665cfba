import type { Vehicle } from '../engine/index.js'
import type { FaultId } from './faultKit.js'

/** What an act hangs on of an engine. */
type ActedOn = Pick<Vehicle, 'egrControl' | 'fuel' | 'doNotClean'>

/** What is said and reckoned of a cause beside its physics. */
export interface CauseFacts {
  /** What a clear case asks for. */
  readonly act: string
  /** The same of an engine on which it cannot be done so. */
  readonly actOn?: (v: ActedOn) => string | undefined
  /** Stage at which that is done, where it is not traced. */
  readonly stage?: 'clean' | 'learn'
  /** The test that this is, where it is one, and what is asked for once it found nothing, or found something that names no place. */
  readonly test?: string
  readonly passed?: string
  readonly found?: string
  /** How it is told to a customer: a whole sentence about the engine as it came, without its stop. */
  readonly plain: string
  /** Time lost when its remedy turns out wrong, parts counted at the shop's hour [min]; ours. */
  readonly wrongRemedyMinutes: number
}

/** Every cause's facts. A new cause has its id in faultKit.ts, its grid and effect beside its like, and its line here. */
export const CAUSES: Readonly<Record<FaultId, CauseFacts>> = {
  none: {
    act: 'Print the sheet',
    plain: 'Nothing was wrong with the way your engine breathes',
    wrongRemedyMinutes: 30,
  },
  'unmetered-air': {
    act: 'Find the place',
    plain: 'Your engine was drawing in air where it should not',
    wrongRemedyMinutes: 60,
  },
  'unmetered-air-bank': {
    act: 'Find the place on that bank',
    plain: 'One side of your engine was drawing in air where it should not',
    wrongRemedyMinutes: 150,
  },
  'unmetered-air-duct': {
    act: 'Flex and look at the duct',
    test: 'flex-duct',
    passed: 'Smoke into the duct, its seats and clamps',
    plain: 'Air was getting in between the airflow sensor and the throttle',
    wrongRemedyMinutes: 45,
  },
  'pcv-stuck-open': {
    act: 'Pinch the crankcase vent',
    plain: 'The crankcase vent of your engine was letting too much air through',
    wrongRemedyMinutes: 60,
  },
  'purge-stuck-open': {
    act: 'Pinch the purge hose',
    test: 'purge-pinch',
    passed: 'Purge valve off, tried with the hand pump',
    plain: 'The fuel vapour valve of your engine was standing open',
    wrongRemedyMinutes: 60,
  },
  'boost-leak': {
    act: 'Boost pipes under pressure',
    test: 'boost-decay',
    passed: 'Boost pipes again, warm and at full charge pressure',
    plain: 'Charged air was being lost on its way to your engine',
    wrongRemedyMinutes: 60,
  },
  'maf-under-reads': {
    act: 'Clean the airflow sensor, once',
    actOn: (v) =>
      v.doNotClean?.includes('airflow-sensor') ? 'Renew the airflow sensor: its label forbids cleaning' : undefined,
    stage: 'clean',
    plain: 'The airflow sensor of your engine was reading too low',
    wrongRemedyMinutes: 40,
  },
  'maf-over-reads': {
    act: 'Look at the airflow sensor',
    test: 'maf-look',
    passed: 'Airflow sensor: its plug, earth and zero',
    plain: 'The airflow sensor of your engine was reading too high',
    wrongRemedyMinutes: 150,
  },
  'map-sensor-offset': {
    act: 'Check the pressure sensor at key-on',
    test: 'map-key-on',
    passed: 'Pressure sensor against a gauge, engine running',
    plain: 'The intake pressure sensor of your engine was reading wrong',
    wrongRemedyMinutes: 60,
  },
  'temperature-sensor-implausible': {
    act: 'Temperatures against a thermometer, then sensor and plug',
    test: 'temperatures-warm',
    passed: 'Plugs and wiring of the temperature sensors',
    plain: 'A temperature sensor of your engine was reading wrong',
    wrongRemedyMinutes: 40,
  },
  'throttle-deposits': {
    act: 'Look at the throttle edge',
    test: 'throttle-look',
    passed: 'Idle passage and the seat behind the plate looked at',
    plain: 'Deposits were closing the opening through which your engine idles',
    wrongRemedyMinutes: 60,
  },
  'idle-learnt-past': {
    act: 'Look at the plate, let it settle, then teach',
    stage: 'learn',
    plain: 'The idle control of your engine opened further than it needs to',
    wrongRemedyMinutes: 25,
  },
  'idle-valve-stuck': {
    act: 'Sweep the idle valve',
    test: 'idle-valve-sweep',
    passed: 'Idle valve off, its seat and passage looked at',
    plain: 'The valve that holds the idle of your engine did not follow',
    wrongRemedyMinutes: 90,
  },
  'intake-restriction': {
    act: 'Filter out, then inward from the inlet',
    test: 'filter-look',
    passed: 'Inward from the inlet: duct, plate, manifold',
    plain: 'The way of the air into your engine was narrowed',
    wrongRemedyMinutes: 20,
  },
  'egr-open-at-idle': {
    act: 'Hand pump on the EGR valve',
    // a valve that a motor moves is not lifted by a hand pump
    actOn: (v) => (v.egrControl === 'electric' ? 'EGR valve off, its seat looked at' : undefined),
    test: 'egr-hand-pump',
    passed: 'EGR valve off, its seat looked at',
    plain: 'Exhaust gas was leaking into the intake of your engine at idle',
    wrongRemedyMinutes: 180,
  },
  'egr-no-flow': {
    act: 'EGR passage looked at',
    test: 'egr-passage-look',
    passed: 'What moves the EGR valve: vacuum or command at it',
    plain: 'The exhaust gas passage of your engine was blocked',
    wrongRemedyMinutes: 120,
  },
  'pcv-blocked': {
    act: 'Vacuum at the vent grommet',
    test: 'pcv-grommet',
    passed: 'Vent hoses and separator looked through',
    plain: 'The crankcase vent of your engine was blocked',
    wrongRemedyMinutes: 60,
  },
  'valve-deposits': {
    act: 'Look at the valves by borescope',
    plain: 'Deposits on the intake valves were holding back the air of your engine',
    wrongRemedyMinutes: 300,
  },
  'runner-restriction': {
    act: 'Balance of the cylinders',
    // nothing compares the pull of a diesel's cylinders
    actOn: (v) => (v.fuel === 'diesel' ? 'Look into ports and runners, one beside the other' : undefined),
    test: 'cylinder-pull',
    found: 'Look into the port and runner of that cylinder',
    plain: 'One cylinder of your engine was getting too little air',
    wrongRemedyMinutes: 240,
  },
  'fuel-delivery-low': {
    act: 'Fuel pressure; leave the intake alone',
    test: 'fuel-pressure',
    passed: 'Injectors, their flow and their wiring; leave the intake alone',
    plain: 'Your engine was getting too little fuel',
    wrongRemedyMinutes: 240,
  },
  'fuel-delivery-high': {
    act: 'Fuel pressure; leave the intake alone',
    test: 'fuel-pressure',
    passed: 'Coolant sensor, then injectors that drip; leave the intake alone',
    plain: 'Your engine was getting too much fuel',
    wrongRemedyMinutes: 240,
  },
  'oxygen-sensor-biased': {
    act: 'Oxygen sensor tried; leave the intake alone',
    test: 'oxygen-sensor-swing',
    passed: 'Oxygen sensor against another; leave the intake alone',
    plain: 'The oxygen sensor of your engine was reading wrong',
    wrongRemedyMinutes: 120,
  },
  'oxygen-sensors-crossed': {
    act: 'Each sensor to its own bank; leave the intake alone',
    test: 'oxygen-sensor-plugs',
    passed: 'Wiring of the oxygen sensors; leave the intake alone',
    plain: 'The two oxygen sensors of your engine were plugged into each other’s place',
    wrongRemedyMinutes: 240,
  },
  'exhaust-leak': {
    act: 'Exhaust joints ahead of the sensor; leave the intake alone',
    test: 'exhaust-leak-look',
    passed: 'Smoke into the cold exhaust; leave the intake alone',
    plain: 'The exhaust of your engine was leaking ahead of its sensor',
    wrongRemedyMinutes: 120,
  },
  'exhaust-restriction': {
    act: 'Back pressure; leave the intake alone',
    test: 'back-pressure',
    passed: 'Back pressure in a full pull; leave the intake alone',
    plain: 'The exhaust of your engine was holding it back',
    wrongRemedyMinutes: 400,
  },
  'valve-timing-late': {
    act: 'Valve timing; leave the intake alone',
    test: 'cam-timing',
    passed: 'Timing by its marks; leave the intake alone',
    plain: 'The valves of your engine were opening late',
    wrongRemedyMinutes: 400,
  },
  'weak-cylinder': {
    act: 'Compression; leave the intake alone',
    test: 'compression',
    passed: 'Leak-down, and the lift of each valve; leave the intake alone',
    plain: 'One cylinder of your engine was weak',
    wrongRemedyMinutes: 600,
  },
  'ignition-misfire': {
    act: 'Ignition; leave the intake alone',
    test: 'misfire-count',
    passed: 'Coils, plugs and injectors changed over; leave the intake alone',
    plain: 'One cylinder of your engine was misfiring',
    wrongRemedyMinutes: 120,
  },
}

/** What a test ended with, as far as an act hangs on it. */
interface Answered {
  readonly test: string
  readonly outcome: 'pass' | 'fail' | 'unclear'
}

/** The finding that answers the test which a cause asks for; undefined where it is none or was not made. */
export const answerOf = <T extends Answered>(fault: FaultId, findings: readonly T[]): T | undefined =>
  findings.findLast((x) => x.test === CAUSES[fault].test && x.outcome !== 'unclear')

/** What a clear case asks for on this engine; a test that was made is not asked for again. */
export function actOf(fault: FaultId, v: ActedOn, findings: readonly Answered[] = []): string {
  const { act, actOn, passed, found } = CAUSES[fault]
  const seat = findings.findLast((x) => x.test === 'egr-passage-look' && x.outcome !== 'unclear')
  // a seat that is sound and lets gas in all the same is held open
  if (fault === 'egr-open-at-idle' && seat?.outcome === 'pass') return CAUSES['egr-no-flow'].passed!
  const answer = answerOf(fault, findings)
  const next = answer && (answer.outcome === 'pass' ? passed : found)
  return next ?? actOn?.(v) ?? act
}
