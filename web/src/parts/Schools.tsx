import { Collapsible } from 'radix-ui'
import type { School } from '@uvula/core'

/** Where practitioners disagree: our way with its reason, the other with its own, and a tap that takes it. */
export function Schools({
  schools,
  onTake,
}: {
  schools: readonly School[]
  /** Takes the other way, where the bench can. */
  onTake?: (s: School) => void
}) {
  return (
    <section className="mt-14" aria-label="schools">
      <h2 className="text-small text-soft">where practitioners disagree</h2>
      {schools.map((s) => (
        <Collapsible.Root key={s.id} className="border-b border-b-line">
          <Collapsible.Trigger className="flex min-h-tap w-full items-center justify-between gap-10 text-left leading-tight">
            <span>{s.asks}</span>
            <b>{s.ours}</b>
          </Collapsible.Trigger>
          <Collapsible.Content className="pb-8 text-small">
            <p>
              <b>{cap(s.ours)}:</b> {s.why}.
            </p>
            <p>
              <b>{cap(s.other)}:</b> {s.otherWhy}.
            </p>
            {s.take && onTake && (
              <button type="button" className="act mt-6" onClick={() => onTake(s)}>
                take {s.other}
              </button>
            )}
          </Collapsible.Content>
        </Collapsible.Root>
      ))}
    </section>
  )
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
