import { COOLANT_BLED, COOLANT_FILLED, live, type VisitFile } from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'

/** Writes what was seen to, once. */
export function useTicks(file: VisitFile): {
  readonly seen: (id: string) => boolean
  readonly tick: (id: string) => void
} {
  const { write } = useWriter(file)
  const ids = new Set(live(file.ticks).map((t) => t.caution))
  return {
    seen: (id) => ids.has(id),
    tick: (id) =>
      void (
        !ids.has(id) && write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: id })
      ),
  }
}

/** Coolant hoses were off: the level before the start, bled and dry after the warm-up. */
export function Coolant({ file }: { file: VisitFile }) {
  const { seen, tick } = useTicks(file)
  if (!live(file.items).some((i) => i.more?.carries === 'coolant')) return null
  return (
    <section className="mt-8 grid gap-6" aria-label="coolant">
      <Tick checked={seen(COOLANT_FILLED)} onChange={() => tick(COOLANT_FILLED)}>
        coolant made up, hoses tight
      </Tick>
      <Tick checked={seen(COOLANT_BLED)} onChange={() => tick(COOLANT_BLED)}>
        warmed up: bled, level again, hoses dry
      </Tick>
    </section>
  )
}
