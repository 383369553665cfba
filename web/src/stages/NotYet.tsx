import type { StageId } from '@uvula/core'

/** What each stage of the service half will do; it is not built in this version. */
const WORDS: Partial<Record<StageId, string>> = {
  'open-up': 'Opening up is not in this version: keep what comes off on paper for now.',
  clean: 'Cleaning is not in this version: go by the product label.',
  decarbonize: 'Feeding a cleaner is not in this version, and no dose is computed here.',
  'close-up': 'Closing up is not in this version: count cloths and bolts on paper for now.',
  'first-start': 'First start is not in this version.',
  learn: 'Relearning is not in this version: go by the procedure of the vehicle.',
}

export function NotYet({ stage }: { stage: StageId }) {
  return <p className="bench plain">{WORDS[stage]}</p>
}
