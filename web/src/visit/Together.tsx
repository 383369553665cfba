import { STAGES } from '@uvula/core'
import { useTogether } from '../store/together.js'

/** Who else is on this visit, and where. */
export function Together({ visitId, stage }: { visitId: string; stage: string }) {
  const hands = useTogether(visitId, stage)
  if (!hands.length) return null
  const words = hands.map((h) => {
    const at = STAGES.find((s) => s.id === h.stage)?.label
    return at ? `${h.by} is at ${at}` : `${h.by} is here`
  })
  return (
    <span
      role="status"
      data-testid="together"
      className="border-l-6 border-l-air pl-8 text-small whitespace-nowrap narrow:ml-14"
    >
      {words.join(', ')}
    </span>
  )
}
