import { tellsNothing, type Diagnosis, type FaultId, type Reason } from '../diagnosis/index.js'
import { andList } from './words.js'

/** From so much in its favour a kind of evidence is named beside the readings [bits]. */
const NAMED_BITS = 1
const BESIDE = { code: 'codes', sign: 'signs', finding: 'findings' } as const
/** Whether a reason is a reading, and neither one of those nor what was done. */
const isReading = (r: Reason): boolean => !(r.source in BESIDE) && r.source !== 'work'

/** What speaks for a cause: readings only where they tell anything and it leaves its mark in them, and what else moves it. */
export function spokenForBy(d: Diagnosis, fault: FaultId): string {
  if (tellsNothing(d) || d.unmarked.includes(fault)) return 'codes, signs and tests'
  const bits = (source: string): number =>
    (d.reasons[fault] ?? []).reduce((sum, r) => sum + (r.source === source ? r.bits : 0), 0)
  const beside = Object.entries(BESIDE).flatMap(([source, name]) => (bits(source) >= NAMED_BITS ? [name] : []))
  return andList(['the readings', ...beside])
}

/** Whether readings can show a cause at all. */
export const shows = (d: Diagnosis, fault: FaultId): boolean => !d.unmarked.includes(fault)

/** Whether the readings spoke for a cause, and not its test alone: where they did not, nothing of them comes back. */
export function isOfReadings(d: Diagnosis, fault: FaultId): boolean {
  const reasons = d.reasons[fault]?.filter(isReading)
  return !reasons || reasons.reduce((sum, r) => sum + r.bits, 0) >= NAMED_BITS
}

/** Whether more of what spoke for a cause were readings than tests and looks: then they, and no test, tell whether it is gone. */
export function isMoreOfReadings(d: Diagnosis, fault: FaultId): boolean {
  const reasons = d.reasons[fault]
  if (!reasons) return true
  const bits = (of: (r: Reason) => boolean): number => reasons.filter(of).reduce((sum, r) => sum + r.bits, 0)
  const byTests = bits((r) => r.source === 'finding')
  return bits(isReading) >= Math.max(NAMED_BITS, byTests)
}
