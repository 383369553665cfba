import { remediesOf, type VisitFile } from '@uvula/core'
import { Dialog } from '../kit/Dialog.js'

/** Something was done meanwhile: only a person knows on which side of it the engine ran. */
export function WhichSide({
  file,
  round,
  name,
  onSide,
  onClose,
}: {
  file: VisitFile
  /** Round that is filled now. */
  round: number
  name: string
  onSide: (round: number) => void
  onClose: () => void
}) {
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`When was ${name} recorded?`}>
      <p>It counts with what was measured at the same time; closed without a word it is left out.</p>
      <div className="mt-12 flex flex-wrap gap-8">
        {remediesBefore(file, round).map((b) => (
          <button key={b.round} type="button" className="act" onClick={() => onSide(b.round)}>
            before: {b.words}
          </button>
        ))}
        <button type="button" className="act strong" onClick={() => onSide(round)}>
          after: {remediesOf(file).at(-1)?.words}
        </button>
      </div>
    </Dialog>
  )
}

/** Rounds that a remedy has closed, each with the first that did. */
const remediesBefore = (file: VisitFile, round: number): { readonly round: number; readonly words: string }[] =>
  Array.from({ length: round }, (_, r) => ({
    round: r,
    words: remediesOf(file).find((x) => x.afterRound === r)?.words,
  })).flatMap(({ round: r, words }) => (words === undefined ? [] : [{ round: r, words }]))
