import { COOLANT_BLED, COOLANT_FILLED, coolantSeen, live, type VisitFile } from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'

/** What was seen to, and the writing of it; whether it still holds is asked by who ticks. */
export function useTicks(file: VisitFile): {
  readonly seen: (id: string) => boolean
  readonly tick: (id: string) => void
} {
  const { write } = useWriter(file)
  const ids = new Set(live(file.ticks).map((t) => t.caution))
  return {
    seen: (id) => ids.has(id),
    tick: (id) => write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: id }),
  }
}

/** Coolant hoses were off: the level before the start, bled and dry after the warm-up. */
export function Coolant({ file }: { file: VisitFile }) {
  const { tick } = useTicks(file)
  const seen = (id: typeof COOLANT_FILLED | typeof COOLANT_BLED): boolean => coolantSeen(file, id)
  if (!live(file.items).some((i) => i.more?.carries === 'coolant')) return null
  return (
    <section className="mt-8 grid gap-6" aria-label="coolant">
      <Tick checked={seen(COOLANT_FILLED)} onChange={() => !seen(COOLANT_FILLED) && tick(COOLANT_FILLED)}>
        coolant made up, hoses tight
      </Tick>
      <Tick checked={seen(COOLANT_BLED)} onChange={() => !seen(COOLANT_BLED) && tick(COOLANT_BLED)}>
        warmed up: bled, level again, hoses dry
      </Tick>
    </section>
  )
}
