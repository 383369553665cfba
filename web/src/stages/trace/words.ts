import type { Diagnosis } from '@uvula/core'

/** How far the tests have come, in words. */
export const VERDICTS: Readonly<Record<Diagnosis['stop']['verdict'], string>> = {
  act: 'Sure enough to act',
  test: 'Worth a test first',
  measure: 'Measure first',
}
