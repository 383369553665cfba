import { live, CAUTIONS, type CautionId, type VisitFile } from '@uvula/core'
import { Tick } from '../kit/Tick.js'
import { newId } from '../store/database.js'
import { useWriter } from '../store/visit.js'

/** Whether a STOP caution has been seen to in this visit. */
export const stopSeen = (file: VisitFile, id: CautionId): boolean => live(file.ticks).some((t) => t.caution === id)

/** A STOP caution at its step: danger, rule, what to do if it has happened, and its tick. */
export function Stop({ file, id }: { file: VisitFile; id: CautionId }) {
  const { write } = useWriter(file)
  const caution = CAUTIONS[id]
  const seen = stopSeen(file, id)
  return (
    <div className="caution stop px-10 py-6 mx-0 my-6 border-4 border-ink gap-12 flex items-center justify-between narrow:flex-col narrow:items-stretch">
      <p className="text-small">
        <b>STOP</b> {caution.text} <span className="text-soft">If it has happened: {caution.ifHappened}</span>
      </p>
      <Tick
        className="flex-none whitespace-nowrap"
        checked={seen}
        onChange={() =>
          !seen && write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: id })
        }
      >
        seen to
      </Tick>
    </div>
  )
}
