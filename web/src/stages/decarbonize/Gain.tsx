import { expectedGain, lastRound, type VisitFile } from '@uvula/core'
import { useDiagnosis } from '../../workers/heart.js'

/** What a feed could bring on this engine; nothing is pushed where that is nothing. */
export function Gain({ file }: { file: VisitFile }) {
  const { diagnosis } = useDiagnosis(file, lastRound(file))
  const gain = diagnosis && expectedGain(file, diagnosis)
  if (!gain) return null
  return (
    <section className="mt-8" data-testid="gain">
      <h2 className="text-small text-soft">what will it bring?</h2>
      {gain.sentences.map((s) => (
        <p key={s} className={gain.nothing || gain.against ? 'font-semibold' : ''}>
          {s}
        </p>
      ))}
    </section>
  )
}
