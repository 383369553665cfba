import { CODE_MEANINGS, type CodeMeaning } from './codeTable.js'
import type { FaultId } from './faultKit.js'

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

/** What a code is about, in our own words: a misfire by its cylinder; undefined where there are none. Numbers: SAE J2012. */
export function codeWords(code: string): string | undefined {
  const cylinder = /^P03(0[0-9]|1[0-2])$/i.exec(code)?.[1]
  if (cylinder) return cylinder === '00' ? 'misfire on several cylinders' : `misfire on cylinder ${Number(cylinder)}`
  return codeMeaning(code)?.label
}
