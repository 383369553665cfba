import { DOUBLED } from '../engine/index.js'
import type { FaultId } from './faultKit.js'

/** What one line of the free look speaks for when something is seen there. */
export interface LookEvidence {
  /** P(seen | this cause); every other cause and none at `otherwise`. */
  readonly finds: Readonly<Partial<Record<FaultId, number>>>
  readonly otherwise: number
  /** Why. */
  readonly reason: string
  /** Its being in order counts by itself: one thing is looked at, not one place of many. */
  readonly alone?: true
}

const l = (finds: LookEvidence['finds'], otherwise: number, reason: string, alone?: true): LookEvidence => ({
  finds,
  otherwise,
  reason,
  ...(alone ? { alone } : {}),
})

const leakAt = (share: number, reason: string, more: LookEvidence['finds'] = {}): LookEvidence =>
  l({ 'unmetered-air': share, ...more }, 0.03, reason)

/**
 * Every line of the look of a station that an engine has once, by its id, station and place in the station's list. Shares are ours, stated with their reason: a
 * find at one place speaks for what that place can do to the air, and for nothing else.
 */
const SINGLE: Readonly<Record<string, LookEvidence>> = {
  'inlet.1': l(
    { 'intake-restriction': 0.5 },
    0.03,
    'a blocked snorkel holds the air back; one that is off only warms it',
  ),
  'filter.1': l(
    { 'maf-under-reads': 0.15, 'maf-over-reads': 0.1 },
    0.05,
    'air round the element carries dust to the sensor; it is still metered',
  ),
  'filter.2': l(
    { 'intake-restriction': 0.7, 'maf-under-reads': 0.25 },
    0.1,
    'a loaded element restricts; a wet or oily one films the sensor',
    true,
  ),
  'filter.3': l({ 'maf-under-reads': 0.35, 'maf-over-reads': 0.15 }, 0.05, 'dust past the seal settles on the sensor'),
  'airflow-sensor.1': l(
    { 'maf-under-reads': 0.12, 'maf-over-reads': 0.12 },
    0.02,
    'a sensor that sits crooked or backwards reads wrong',
  ),
  'airflow-sensor.2': l(
    { 'maf-under-reads': 0.6, 'maf-over-reads': 0.25 },
    0.08,
    'film insulates the element: it reads low; debris before it may make it read high',
    true,
  ),
  'duct.1': l({ 'unmetered-air-duct': 0.45 }, 0.02, 'a duct off its stub lets air in behind the sensor'),
  'duct.2': l({ 'unmetered-air-duct': 0.5 }, 0.02, 'a split in a bend opens as the engine moves'),
  'duct.3': l(
    { 'unmetered-air-duct': 0.25, 'intake-restriction': 0.2, 'pcv-stuck-open': 0.25, 'pcv-blocked': 0.15 },
    0.05,
    'oil in the duct comes from the crankcase vent; rubber soft with it collapses or splits',
  ),
  'compressor.1': l(
    { 'unmetered-air-duct': 0.2, 'boost-leak': 0.1, 'pcv-stuck-open': 0.1 },
    0.05,
    'a loose inlet pipe draws air past the sensor; much oil comes from vent or shaft',
  ),
  'intercooler.1': l({ 'boost-leak': 0.5 }, 0.05, 'charge air blows oil out where it escapes'),
  'boost-pipe.1': l({ 'boost-leak': 0.5 }, 0.03, 'a fan of dirt marks escaping charge air'),
  'boost-pipe.2': l({ 'boost-leak': 0.4 }, 0.02, 'a split under a clamp opens under pressure'),
  'throttle.1': l(
    { 'throttle-deposits': 0.75, 'pcv-stuck-open': 0.3, 'pcv-blocked': 0.25 },
    0.2,
    'a ring at the edge closes the idle opening; many sound engines carry a thin one',
    true,
  ),
  'throttle.2': leakAt(0.2, 'a dirt streak across the gasket is air drawn in', { 'unmetered-air-bank': 0.03 }),
  'idle-valve.1': leakAt(0.3, 'a bypass hose off lets air in behind the plate', { 'idle-valve-stuck': 0.04 }),
  'idle-valve.2': l({ 'idle-valve-stuck': 0.3 }, 0.03, 'without its connector the valve does not follow'),
  'plenum.1': leakAt(0.3, 'an open nipple or a crack lets air in behind the plate'),
  'map-sensor.1': l(
    { 'map-sensor-offset': 0.3, 'unmetered-air': 0.12 },
    0.02,
    'an unseated pressure sensor reads near ambient and lets a little air in',
  ),
  'pcv.1': leakAt(0.4, 'elbows split first: air past the plate', { 'pcv-stuck-open': 0.3, 'pcv-blocked': 0.1 }),
  'pcv.2': leakAt(0.25, 'an open filler or dipstick lets air into the crankcase and from there into the manifold', {
    'pcv-stuck-open': 0.2,
  }),
  'purge.1': leakAt(0.25, 'a purge hose off lets air in behind the plate', { 'purge-stuck-open': 0.1 }),
  'booster.1': leakAt(0.35, 'the thickest hose under constant vacuum; its grommet dries out'),
  'egr.1': l(
    { 'unmetered-air': 0.2, 'egr-open-at-idle': 0.2, 'egr-no-flow': 0.2 },
    0.03,
    'a burnt gasket leaks; without its vacuum hose the valve does not move',
  ),
  'vacuum-lines.1': leakAt(0.45, 'thin ends, disturbed by every earlier job', { 'unmetered-air-bank': 0.05 }),
  'gaskets.1': leakAt(0.25, 'a streak along the joint is air drawn in; one bank may lean alone', {
    'unmetered-air-bank': 0.35,
  }),
  'runners-1.1': leakAt(0.12, 'hard injector seals let air into one runner', { 'unmetered-air-bank': 0.3 }),
  'runners-2.1': leakAt(0.12, 'hard injector seals let air into one runner', { 'unmetered-air-bank': 0.3 }),
  'throttle.3': l({ 'throttle-deposits': 0.1 }, 0.06, 'a dry cable returns slowly; a plate that sticks feels the same'),
  'resonator.1': l({ 'intake-restriction': 0.2 }, 0.03, 'water in a resonator without its drain wets the element'),
  'intake-temperature.1': l(
    { 'temperature-sensor-implausible': 0.4 },
    0.02,
    'one that hangs loose or is unplugged reads the bonnet, or nothing',
  ),
  'charge-sensor.1': l({ 'boost-leak': 0.15 }, 0.02, 'an unseated charge sensor blows charge air out'),
  'throttle-flap.1': l({ 'intake-restriction': 0.3 }, 0.1, 'a flap that soot holds narrows the pipe'),
  'throttle-flap.2': l({ 'boost-leak': 0.2 }, 0.03, 'soot at the face is charge air blown out'),
  'separator.1': leakAt(0.3, 'a cracked separator lets air in past the plate', {
    'pcv-stuck-open': 0.2,
    'pcv-blocked': 0.15,
  }),
  'separator.2': leakAt(0.3, 'a torn diaphragm whistles: air comes through the crankcase', {
    'pcv-stuck-open': 0.4,
    'pcv-blocked': 0.1,
  }),
  'egr-cooler.1': l({ 'egr-no-flow': 0.1 }, 0.04, 'a cooler that leaks coolant soots up'),
  'egr-tube.1': l({ 'egr-no-flow': 0.15, 'exhaust-leak': 0.15 }, 0.04, 'a soot fan marks escaping exhaust gas'),
  'flaps.1': l({ 'runner-restriction': 0.25 }, 0.04, 'a rod off leaves the flaps where they are, often shut'),
  'flaps.2': leakAt(0.2, 'worn shaft ends draw air'),
  'fresh-air-hose.1': l({ 'pcv-blocked': 0.15 }, 0.04, 'the crankcase draws its air elsewhere'),
  'regulator-line.1': leakAt(0.15, 'a line off draws air; fuel in it comes through a torn diaphragm', {
    'fuel-delivery-high': 0.25,
  }),
  'heater-line.1': leakAt(0.25, 'a line behind the dash that nobody looks at'),
  'cruise-line.1': leakAt(0.2, 'old bellows split'),
  'boost-control-line.1': l({ 'boost-leak': 0.2 }, 0.04, 'without its line the charge pressure is not held'),
  'idle-up-valve.1': leakAt(0.2, 'a bypass hose off lets air in behind the plate'),
  'secondary-air.1': leakAt(0.15, 'a burnt line lets air in behind the plate'),
}

/** Tests that look at what a line of the walk looks at: either answers for both. */
export const LOOKS_ALIKE: Readonly<Record<string, string>> = {
  'maf-look': 'airflow-sensor.2',
  'throttle-look': 'throttle.1',
  'filter-look': 'filter.2',
}

/** Every line of the look by its id; a second inlet's lines speak for what the first's do. */
export const LOOKS: Readonly<Record<string, LookEvidence>> = {
  ...SINGLE,
  ...Object.fromEntries(
    Object.entries(SINGLE).flatMap(([id, evidence]) => {
      const [station, line] = id.split('.')
      return DOUBLED.some((d) => d === station) ? [[`${station}-2.${line}`, evidence]] : []
    }),
  ),
}

/** Whether a place of the free look has this id. */
export const isLookItem = (id: string): boolean => Object.hasOwn(LOOKS, id)
