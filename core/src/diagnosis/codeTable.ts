import type { FaultId } from './faultKit.js'

/** What a stored code number says of causes: public meaning in our own words, and how much more often it comes with a cause. */
export interface CodeMeaning {
  /** Number, or the start of a family of numbers. */
  readonly code: string
  readonly label: string
  /** Likelihood ratios, 1 says nothing. Ours; a code that only repeats what trims show counts little. */
  readonly favours: Readonly<Partial<Record<FaultId, number>>>
}

const lean = {
  'unmetered-air': 1.6,
  'unmetered-air-bank': 1.6,
  'unmetered-air-duct': 1.6,
  'maf-under-reads': 1.6,
  'fuel-delivery-low': 1.6,
  'exhaust-leak': 1.4,
  'oxygen-sensor-biased': 1.3,
  'oxygen-sensors-crossed': 1.6,
  'ignition-misfire': 1.2,
} as const
const rich = {
  'fuel-delivery-high': 1.6,
  'maf-over-reads': 1.6,
  'purge-stuck-open': 1.5,
  'egr-open-at-idle': 1.2,
  'map-sensor-offset': 1.4,
  'oxygen-sensor-biased': 1.3,
  'oxygen-sensors-crossed': 1.6,
} as const
const misfire = {
  'ignition-misfire': 30,
  'weak-cylinder': 10,
  'egr-open-at-idle': 2.5,
  'unmetered-air-bank': 1.4,
  'valve-deposits': 1.5,
} as const

/** Where a trim stands off: little beside the trim itself, which says where too. */
const offIdle = {
  'fuel-delivery-low': 2.2,
  'maf-under-reads': 2,
  'unmetered-air-duct': 1.6,
  'oxygen-sensor-biased': 1.3,
} as const
const richOffIdle = {
  'fuel-delivery-high': 1.8,
  'maf-over-reads': 2,
  'purge-stuck-open': 1.5,
  'map-sensor-offset': 1.5,
} as const
const underLoad = { 'fuel-delivery-low': 2.5, 'maf-under-reads': 2, 'unmetered-air-duct': 1.3 } as const
const richUnderLoad = { 'maf-over-reads': 2, 'fuel-delivery-high': 1.8, 'boost-leak': 1.8 } as const
const leanBehind = { 'exhaust-leak': 2.5, 'unmetered-air': 1.2, 'fuel-delivery-low': 1.3 } as const
const stuckLean = {
  'oxygen-sensor-biased': 3,
  'exhaust-leak': 1.6,
  'unmetered-air': 1.3,
  'fuel-delivery-low': 1.5,
} as const
const stuckRich = { 'oxygen-sensor-biased': 3, 'fuel-delivery-high': 1.5, 'purge-stuck-open': 1.3 } as const
const unlikeInBank = {
  'runner-restriction': 3,
  'unmetered-air-bank': 2.5,
  'ignition-misfire': 2,
  'exhaust-leak': 1.5,
  'valve-deposits': 1.5,
} as const
const airflow = { 'maf-under-reads': 3, 'maf-over-reads': 3 } as const
const oxygen = { 'oxygen-sensor-biased': 4 } as const
const intakeCam = { 'valve-timing-late': 6 } as const
const lateCam = { 'valve-timing-late': 40 } as const
const byTeeth = { 'valve-timing-late': 80 } as const
const idleValve = { 'idle-valve-stuck': 5 } as const
const says = (code: string, label: string, favours: CodeMeaning['favours'] = {}): CodeMeaning => ({
  code,
  label,
  favours,
})

/** Numbers of SAE J2012; the longest match of a family counts. */
export const CODE_MEANINGS: readonly CodeMeaning[] = [
  says('P0171', 'bank 1 lean', lean),
  says('P0174', 'bank 2 lean', lean),
  says('P0172', 'bank 1 rich', rich),
  says('P0175', 'bank 2 rich', rich),
  says('P2187', 'lean at idle, bank 1', {
    'unmetered-air': 2.2,
    'unmetered-air-bank': 2,
    'exhaust-leak': 1.6,
    'purge-stuck-open': 1.4,
  }),
  says('P2189', 'lean at idle, bank 2', { 'unmetered-air': 2.2, 'unmetered-air-bank': 2, 'exhaust-leak': 1.6 }),
  says('P2188', 'rich at idle, bank 1', { 'fuel-delivery-high': 2, 'purge-stuck-open': 2, 'egr-open-at-idle': 1.3 }),
  says('P0101', 'airflow signal not as expected', {
    'maf-under-reads': 3,
    'maf-over-reads': 3,
    'unmetered-air-duct': 1.8,
    'unmetered-air': 1.3,
    'intake-restriction': 1.5,
    'boost-leak': 1.6,
  }),
  says('P0102', 'airflow signal too low', { 'maf-under-reads': 4 }),
  says('P0103', 'airflow signal too high', { 'maf-over-reads': 4 }),
  says('P0068', 'throttle and airflow do not agree', {
    'unmetered-air': 2,
    'pcv-stuck-open': 1.6,
    'throttle-deposits': 1.6,
  }),
  says('P0106', 'manifold pressure not as expected', { 'map-sensor-offset': 8, 'unmetered-air': 1.3 }),
  says('P0107', 'manifold pressure signal too low', { 'map-sensor-offset': 4 }),
  says('P0108', 'manifold pressure signal too high', { 'map-sensor-offset': 4 }),
  says('P0111', 'intake temperature not as expected', { 'temperature-sensor-implausible': 8 }),
  says('P0112', 'intake temperature signal too low', { 'temperature-sensor-implausible': 30 }),
  says('P0113', 'intake temperature signal too high', { 'temperature-sensor-implausible': 30 }),
  says('P0117', 'coolant temperature signal too low', { 'temperature-sensor-implausible': 30 }),
  says('P0118', 'coolant temperature signal too high', { 'temperature-sensor-implausible': 30 }),
  says('P0087', 'fuel rail pressure too low', { 'fuel-delivery-low': 6 }),
  says('P0088', 'fuel rail pressure too high', { 'fuel-delivery-high': 6 }),
  says('P0130', 'oxygen sensor signal, bank 1', { 'oxygen-sensor-biased': 4 }),
  says('P0133', 'oxygen sensor slow, bank 1', { 'oxygen-sensor-biased': 4, 'exhaust-leak': 1.5 }),
  says('P0153', 'oxygen sensor slow, bank 2', { 'oxygen-sensor-biased': 4, 'exhaust-leak': 1.5 }),
  says('P0299', 'boost too low', { 'boost-leak': 12, 'intake-restriction': 2, 'exhaust-restriction': 2.5 }),
  says('P030', 'misfire', misfire),
  says('P031', 'misfire', misfire),
  says('P0400', 'EGR flow', { 'egr-no-flow': 8, 'egr-open-at-idle': 2 }),
  says('P0401', 'EGR flow too low', { 'egr-no-flow': 80 }),
  says('P0402', 'EGR flow too high', { 'egr-open-at-idle': 60 }),
  says('P0420', 'catalyst below its efficiency', { 'exhaust-leak': 1.5, 'exhaust-restriction': 1.6 }),
  says('P0441', 'purge flow not as expected', { 'purge-stuck-open': 40 }),
  says('P0496', 'purge flow when none is asked', { 'purge-stuck-open': 40 }),
  says('P0505', 'idle control', { 'idle-valve-stuck': 4, 'throttle-deposits': 2, 'unmetered-air': 1.4 }),
  says('P0506', 'idle below command', { 'throttle-deposits': 3, 'idle-valve-stuck': 3, 'pcv-blocked': 1.5 }),
  says('P0507', 'idle above command', {
    'unmetered-air': 3,
    'pcv-stuck-open': 3,
    'idle-valve-stuck': 2.5,
    'idle-learnt-past': 4,
    'purge-stuck-open': 1.5,
  }),
  // air let in, or held back, along the intake
  says('P2279', 'air leaks into the intake', {
    'unmetered-air': 10,
    'unmetered-air-duct': 8,
    'unmetered-air-bank': 5,
    'boost-leak': 5,
    'pcv-stuck-open': 4,
    'purge-stuck-open': 2,
  }),
  says('P2280', 'air held back or let in ahead of the airflow sensor', { 'intake-restriction': 10 }),
  says('P2281', 'air let in between airflow sensor and throttle', { 'unmetered-air-duct': 25, 'boost-leak': 8 }),
  says('P2282', 'air let in between throttle and intake valves', {
    'unmetered-air': 20,
    'unmetered-air-bank': 12,
    'pcv-stuck-open': 3,
    'purge-stuck-open': 2,
  }),
  says('P04DB', 'crankcase vent off', { 'pcv-stuck-open': 6, 'unmetered-air': 6, 'unmetered-air-duct': 2 }),
  says('P052E', 'crankcase vent regulator', { 'pcv-stuck-open': 8, 'pcv-blocked': 4 }),
  // trims, by where they stand off
  says('P0170', 'fuel trim, bank 1', { 'unmetered-air': 1.3, 'fuel-delivery-low': 1.3, 'maf-under-reads': 1.3 }),
  says('P0173', 'fuel trim, bank 2', { 'unmetered-air': 1.3, 'fuel-delivery-low': 1.3, 'maf-under-reads': 1.3 }),
  says('P2177', 'lean off idle, bank 1', offIdle),
  says('P2179', 'lean off idle, bank 2', offIdle),
  says('P2178', 'rich off idle, bank 1', richOffIdle),
  says('P2180', 'rich off idle, bank 2', richOffIdle),
  says('P2190', 'rich at idle, bank 2', { 'fuel-delivery-high': 2, 'purge-stuck-open': 2, 'egr-open-at-idle': 1.3 }),
  says('P2191', 'lean under load, bank 1', underLoad),
  says('P2193', 'lean under load, bank 2', underLoad),
  says('P2192', 'rich under load, bank 1', richUnderLoad),
  says('P2194', 'rich under load, bank 2', richUnderLoad),
  says('P2096', 'lean behind the catalyst, bank 1', leanBehind),
  says('P2098', 'lean behind the catalyst, bank 2', leanBehind),
  says('P2097', 'rich behind the catalyst, bank 1', { 'fuel-delivery-high': 1.5, 'oxygen-sensor-biased': 1.5 }),
  says('P2099', 'rich behind the catalyst, bank 2', { 'fuel-delivery-high': 1.5, 'oxygen-sensor-biased': 1.5 }),
  says('P2195', 'oxygen sensor stays lean, bank 1', stuckLean),
  says('P2197', 'oxygen sensor stays lean, bank 2', stuckLean),
  says('P2196', 'oxygen sensor stays rich, bank 1', stuckRich),
  says('P2198', 'oxygen sensor stays rich, bank 2', stuckRich),
  says('P219A', 'cylinders of bank 1 unlike in mixture', unlikeInBank),
  says('P219B', 'cylinders of bank 2 unlike in mixture', unlikeInBank),
  // sensors of air
  says('P0100', 'airflow sensor circuit', airflow),
  says('P0104', 'airflow signal comes and goes', airflow),
  says('P00BC', 'airflow too low for what the engine does', {
    'maf-under-reads': 3,
    'intake-restriction': 3,
    'unmetered-air-duct': 2,
    'boost-leak': 2,
  }),
  says('P00BD', 'airflow too high for what the engine does', { 'maf-over-reads': 3, 'egr-no-flow': 1.5 }),
  says('P0069', 'manifold pressure and barometer do not agree', { 'map-sensor-offset': 12 }),
  says('P0105', 'manifold pressure circuit', { 'map-sensor-offset': 6 }),
  says('P0109', 'manifold pressure signal comes and goes', { 'map-sensor-offset': 4 }),
  says('P0110', 'intake temperature circuit', { 'temperature-sensor-implausible': 20 }),
  says('P0114', 'intake temperature signal comes and goes', { 'temperature-sensor-implausible': 8 }),
  says('P0115', 'coolant temperature circuit', { 'temperature-sensor-implausible': 20 }),
  says('P0116', 'coolant temperature not as expected', { 'temperature-sensor-implausible': 8 }),
  says('P0119', 'coolant temperature signal comes and goes', { 'temperature-sensor-implausible': 8 }),
  says('P0125', 'coolant too cold for the closed loop', { 'temperature-sensor-implausible': 3 }),
  says('P0128', 'coolant colder than its thermostat holds it', { 'temperature-sensor-implausible': 1.5 }),
  // throttle and idle
  says('P0120', 'throttle position circuit'),
  says('P0121', 'throttle position not as expected', { 'idle-learnt-past': 1.6, 'throttle-deposits': 1.6 }),
  says('P0122', 'throttle position signal too low'),
  says('P0123', 'throttle position signal too high'),
  says('P0638', 'throttle does not go where it is sent', { 'throttle-deposits': 3, 'idle-learnt-past': 1.5 }),
  says('P2100', 'throttle motor circuit'),
  says('P2101', 'throttle motor not as commanded', { 'throttle-deposits': 2.5, 'idle-learnt-past': 1.5 }),
  says('P2111', 'throttle stays open', { 'idle-learnt-past': 4, 'throttle-deposits': 2 }),
  says('P2112', 'throttle stays shut', { 'throttle-deposits': 4 }),
  says('P2119', 'throttle body out of its range', { 'throttle-deposits': 4, 'idle-learnt-past': 2 }),
  says('P2135', 'the two throttle signals do not agree'),
  says('P2172', 'more air than the throttle lets through, at once', { 'unmetered-air': 4, 'idle-learnt-past': 2 }),
  says('P2173', 'more air than the throttle lets through', {
    'unmetered-air': 4,
    'pcv-stuck-open': 3,
    'idle-learnt-past': 2,
    'maf-over-reads': 2,
  }),
  says('P2174', 'less air than the throttle lets through, at once', {
    'throttle-deposits': 2,
    'intake-restriction': 2,
  }),
  says('P2175', 'less air than the throttle lets through', {
    'throttle-deposits': 3,
    'intake-restriction': 3,
    'maf-under-reads': 2,
  }),
  says('P2176', 'idle position of the throttle not learnt', { 'idle-learnt-past': 8, 'throttle-deposits': 1.5 }),
  says('P0508', 'idle valve circuit low', idleValve),
  says('P0509', 'idle valve circuit high', idleValve),
  says('P0511', 'idle valve circuit', idleValve),
  // fuel vapour
  says('P0443', 'purge valve circuit', { 'purge-stuck-open': 3 }),
  says('P0444', 'purge valve circuit open', { 'purge-stuck-open': 1.5 }),
  says('P0445', 'purge valve circuit shorted', { 'purge-stuck-open': 4 }),
  says('P0497', 'purge flow too low'),
  says('P0440', 'fuel vapour system'),
  says('P0442', 'fuel vapour system, small leak', { 'purge-stuck-open': 1.3 }),
  says('P0446', 'fuel vapour vent'),
  says('P0455', 'fuel vapour system, large leak', { 'purge-stuck-open': 1.3 }),
  says('P0456', 'fuel vapour system, very small leak'),
  says('P0457', 'fuel vapour system, cap off'),
  // exhaust gas
  says('P0403', 'EGR valve circuit', { 'egr-no-flow': 4, 'egr-open-at-idle': 2 }),
  says('P0404', 'EGR valve not where it is sent', { 'egr-open-at-idle': 12, 'egr-no-flow': 6 }),
  says('P0405', 'EGR position signal low', { 'egr-open-at-idle': 2 }),
  says('P0406', 'EGR position signal high', { 'egr-open-at-idle': 2 }),
  says('P2413', 'EGR not as expected', { 'egr-no-flow': 8, 'egr-open-at-idle': 3 }),
  says('P0410', 'secondary air', { 'exhaust-leak': 1.5 }),
  says('P0411', 'secondary air flow', { 'exhaust-leak': 1.5 }),
  says('P0430', 'catalyst below its efficiency, bank 2', { 'exhaust-leak': 1.5, 'exhaust-restriction': 1.6 }),
  says('P2002', 'particulate filter below its efficiency', { 'exhaust-restriction': 1.5 }),
  says('P2463', 'particulate filter full of soot', { 'exhaust-restriction': 20 }),
  // charge
  says('P0234', 'boost too high', { 'map-sensor-offset': 1.5 }),
  says('P0236', 'charge pressure not as expected', { 'map-sensor-offset': 3, 'boost-leak': 3 }),
  says('P0237', 'charge pressure signal too low', { 'map-sensor-offset': 3 }),
  says('P0238', 'charge pressure signal too high', { 'map-sensor-offset': 3 }),
  says('P2263', 'charging not as expected', { 'boost-leak': 6, 'exhaust-restriction': 2, 'intake-restriction': 2 }),
  // runner flaps
  says('P2004', 'runner flaps stay open, bank 1'),
  says('P2005', 'runner flaps stay open, bank 2'),
  says('P2006', 'runner flaps stay shut, bank 1', { 'runner-restriction': 4, 'intake-restriction': 2 }),
  says('P2007', 'runner flaps stay shut, bank 2', { 'runner-restriction': 4, 'intake-restriction': 2 }),
  says('P2015', 'runner flap position, bank 1', { 'runner-restriction': 2 }),
  // fuel and spark
  says('P0089', 'fuel pressure regulator', { 'fuel-delivery-low': 3, 'fuel-delivery-high': 3 }),
  says('P0230', 'fuel pump circuit', { 'fuel-delivery-low': 5 }),
  says('P0231', 'fuel pump circuit low', { 'fuel-delivery-low': 5 }),
  says('P0232', 'fuel pump circuit high', { 'fuel-delivery-low': 2 }),
  says('P0627', 'fuel pump control circuit', { 'fuel-delivery-low': 5 }),
  says('P020', 'injector circuit', { 'ignition-misfire': 6, 'fuel-delivery-low': 1.3 }),
  says('P021', 'injector circuit', { 'ignition-misfire': 6, 'fuel-delivery-low': 1.3 }),
  says('P035', 'ignition coil circuit', { 'ignition-misfire': 20 }),
  // oxygen sensors
  says('P0040', 'oxygen sensors on each other’s bank', { 'oxygen-sensors-crossed': 60 }),
  says('P0131', 'oxygen sensor signal low, bank 1', stuckLean),
  says('P0151', 'oxygen sensor signal low, bank 2', stuckLean),
  says('P0132', 'oxygen sensor signal high, bank 1', stuckRich),
  says('P0152', 'oxygen sensor signal high, bank 2', stuckRich),
  says('P0134', 'oxygen sensor silent, bank 1', oxygen),
  says('P0154', 'oxygen sensor silent, bank 2', oxygen),
  says('P0150', 'oxygen sensor signal, bank 2', oxygen),
  says('P0030', 'oxygen sensor heater, bank 1'),
  says('P0050', 'oxygen sensor heater, bank 2'),
  says('P0135', 'oxygen sensor heater, bank 1'),
  says('P0155', 'oxygen sensor heater, bank 2'),
  // camshafts
  says('P0008', 'crankshaft and camshafts of bank 1 out of place', lateCam),
  says('P0009', 'crankshaft and camshafts of bank 2 out of place', lateCam),
  says('P0011', 'intake camshaft position, bank 1', intakeCam),
  says('P0012', 'intake camshaft too late, bank 1', lateCam),
  says('P0014', 'exhaust camshaft position, bank 1', { 'valve-timing-late': 2 }),
  says('P0015', 'exhaust camshaft too late, bank 1', { 'valve-timing-late': 6 }),
  says('P0016', 'crankshaft and camshaft do not agree, bank 1', byTeeth),
  says('P0017', 'crankshaft and exhaust camshaft do not agree, bank 1', lateCam),
  says('P0018', 'crankshaft and camshaft do not agree, bank 2', byTeeth),
  says('P0019', 'crankshaft and exhaust camshaft do not agree, bank 2', lateCam),
  says('P0021', 'intake camshaft position, bank 2', intakeCam),
  says('P0022', 'intake camshaft too late, bank 2', lateCam),
  says('P0340', 'camshaft signal, bank 1', { 'valve-timing-late': 3 }),
  says('P0341', 'camshaft signal not as expected, bank 1', { 'valve-timing-late': 6 }),
  // supply
  says('P0560', 'supply voltage'),
  says('P0562', 'supply voltage too low'),
  says('P0563', 'supply voltage too high'),
]
