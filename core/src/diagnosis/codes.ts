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

/** Numbers of SAE J2012; the longest match of a family counts. */
export const CODE_MEANINGS: readonly CodeMeaning[] = [
  { code: 'P0171', label: 'bank 1 lean', favours: lean },
  { code: 'P0174', label: 'bank 2 lean', favours: lean },
  { code: 'P0172', label: 'bank 1 rich', favours: rich },
  { code: 'P0175', label: 'bank 2 rich', favours: rich },
  {
    code: 'P2187',
    label: 'lean at idle, bank 1',
    favours: { 'unmetered-air': 2.2, 'unmetered-air-bank': 2, 'exhaust-leak': 1.6, 'purge-stuck-open': 1.4 },
  },
  {
    code: 'P2189',
    label: 'lean at idle, bank 2',
    favours: { 'unmetered-air': 2.2, 'unmetered-air-bank': 2, 'exhaust-leak': 1.6 },
  },
  {
    code: 'P2188',
    label: 'rich at idle, bank 1',
    favours: { 'fuel-delivery-high': 2, 'purge-stuck-open': 2, 'egr-open-at-idle': 1.3 },
  },
  {
    code: 'P0101',
    label: 'airflow signal not as expected',
    favours: {
      'maf-under-reads': 3,
      'maf-over-reads': 3,
      'unmetered-air-duct': 1.8,
      'unmetered-air': 1.3,
      'intake-restriction': 1.5,
      'boost-leak': 1.6,
    },
  },
  { code: 'P0102', label: 'airflow signal too low', favours: { 'maf-under-reads': 4 } },
  { code: 'P0103', label: 'airflow signal too high', favours: { 'maf-over-reads': 4 } },
  {
    code: 'P0068',
    label: 'throttle and airflow do not agree',
    favours: { 'unmetered-air': 2, 'pcv-stuck-open': 1.6, 'throttle-deposits': 1.6 },
  },
  {
    code: 'P0106',
    label: 'manifold pressure not as expected',
    favours: { 'map-sensor-offset': 8, 'unmetered-air': 1.3 },
  },
  { code: 'P0107', label: 'manifold pressure signal too low', favours: { 'map-sensor-offset': 4 } },
  { code: 'P0108', label: 'manifold pressure signal too high', favours: { 'map-sensor-offset': 4 } },
  { code: 'P0111', label: 'intake temperature not as expected', favours: { 'temperature-sensor-implausible': 8 } },
  { code: 'P0112', label: 'intake temperature signal too low', favours: { 'temperature-sensor-implausible': 30 } },
  { code: 'P0113', label: 'intake temperature signal too high', favours: { 'temperature-sensor-implausible': 30 } },
  { code: 'P0117', label: 'coolant temperature signal too low', favours: { 'temperature-sensor-implausible': 30 } },
  { code: 'P0118', label: 'coolant temperature signal too high', favours: { 'temperature-sensor-implausible': 30 } },
  { code: 'P0087', label: 'fuel rail pressure too low', favours: { 'fuel-delivery-low': 6 } },
  { code: 'P0088', label: 'fuel rail pressure too high', favours: { 'fuel-delivery-high': 6 } },
  { code: 'P0130', label: 'oxygen sensor signal, bank 1', favours: { 'oxygen-sensor-biased': 4 } },
  { code: 'P0133', label: 'oxygen sensor slow, bank 1', favours: { 'oxygen-sensor-biased': 4, 'exhaust-leak': 1.5 } },
  { code: 'P0153', label: 'oxygen sensor slow, bank 2', favours: { 'oxygen-sensor-biased': 4, 'exhaust-leak': 1.5 } },
  {
    code: 'P0299',
    label: 'boost too low',
    favours: { 'boost-leak': 12, 'intake-restriction': 2, 'exhaust-restriction': 2.5 },
  },
  { code: 'P030', label: 'misfire', favours: misfire },
  { code: 'P031', label: 'misfire', favours: misfire },
  { code: 'P0400', label: 'EGR flow', favours: { 'egr-no-flow': 8, 'egr-open-at-idle': 2 } },
  { code: 'P0401', label: 'EGR flow too low', favours: { 'egr-no-flow': 80 } },
  { code: 'P0402', label: 'EGR flow too high', favours: { 'egr-open-at-idle': 60 } },
  {
    code: 'P0420',
    label: 'catalyst below its efficiency',
    favours: { 'exhaust-leak': 1.5, 'exhaust-restriction': 1.6 },
  },
  { code: 'P0441', label: 'purge flow not as expected', favours: { 'purge-stuck-open': 40 } },
  { code: 'P0496', label: 'purge flow when none is asked', favours: { 'purge-stuck-open': 40 } },
  {
    code: 'P0505',
    label: 'idle control',
    favours: { 'idle-valve-stuck': 4, 'throttle-deposits': 2, 'unmetered-air': 1.4 },
  },
  {
    code: 'P0506',
    label: 'idle below command',
    favours: { 'throttle-deposits': 3, 'idle-valve-stuck': 3, 'pcv-blocked': 1.5 },
  },
  {
    code: 'P0507',
    label: 'idle above command',
    favours: {
      'unmetered-air': 3,
      'pcv-stuck-open': 3,
      'idle-valve-stuck': 2.5,
      'idle-learnt-past': 4,
      'purge-stuck-open': 1.5,
    },
  },
  { code: 'P0011', label: 'intake camshaft position, bank 1', favours: { 'valve-timing-late': 6 } },
  { code: 'P0016', label: 'crankshaft and camshaft do not agree, bank 1', favours: { 'valve-timing-late': 80 } },
  { code: 'P0018', label: 'crankshaft and camshaft do not agree, bank 2', favours: { 'valve-timing-late': 80 } },
  { code: 'P0021', label: 'intake camshaft position, bank 2', favours: { 'valve-timing-late': 6 } },
]

/** From this ratio on a code is a cause's own. */
const OWN = 5

/**
 * P(none of its own codes stands | the cause is there and the codes were read) [–]: a circuit and a misfire are watched all
 * the time, purge and EGR once a trip and from some size on, the camshaft by its teeth. Ours; 1 for causes without a monitor.
 */
const SILENT: Readonly<Partial<Record<FaultId, number>>> = {
  'temperature-sensor-implausible': 0.15,
  'ignition-misfire': 0.25,
  'valve-timing-late': 0.35,
  'egr-no-flow': 0.35,
  'purge-stuck-open': 0.4,
  'egr-open-at-idle': 0.5,
  'boost-leak': 0.5,
  'map-sensor-offset': 0.8,
  'weak-cylinder': 0.8,
}

/** What it says of a cause that none of its own codes stands, where codes were read: a likelihood ratio, at most 1. */
export const silence = (fault: FaultId, seen: readonly CodeMeaning[]): number =>
  seen.some((m) => (m.favours[fault] ?? 1) >= OWN) ? 1 : (SILENT[fault] ?? 1)

/** Meaning of a code; undefined where this table has none. */
export function codeMeaning(code: string): CodeMeaning | undefined {
  const number = code.toUpperCase()
  return CODE_MEANINGS.filter((m) => number.startsWith(m.code)).sort((a, b) => b.code.length - a.code.length)[0]
}
