import { useState } from 'react'
import { Toggle } from 'radix-ui'
import { Stop, stopSeen } from '../../parts/Stop.js'
import {
  firingOrderOf,
  stageDone,
  stageRefused,
  type ProductId,
  type StageDone,
  type VisitFile,
  type WashStage,
} from '@uvula/core'

/** Ports in firing order, so that the engine is turned on and never back: each shut, cleaned, drawn out, before the next is. */
export function Ports({
  file,
  stages,
  done,
  onDone,
  onUndone,
}: {
  file: VisitFile
  stages: readonly WashStage[]
  done: readonly StageDone[]
  onDone: (id: WashStage['id'], cylinder: number, product?: ProductId) => void
  onUndone: (id: WashStage['id'], cylinder: number) => void
}) {
  const each = stages.filter((s) => s.perCylinder)
  const cylinders = firingOrderOf(file.vehicle.spec)
  const seen = stopSeen(file, 'turned-by-hand')
  const [why, setWhy] = useState<string>()
  const tap = (s: WashStage, cylinder: number): void => {
    if (stageDone(done, s.id, cylinder)) {
      setWhy(undefined)
      return onUndone(s.id, cylinder)
    }
    const refused = stageRefused(done, stages, s.id, cylinder)
    setWhy(refused)
    if (refused === undefined) onDone(s.id, cylinder, s.products?.at(0))
  }
  const next = cylinders.find((c) => each.some((s) => !stageDone(done, s.id, c)))
  return (
    <li className="py-6" data-stage="ports">
      <Stop file={file} id="turned-by-hand" />
      <p className="text-small">{each.map((s) => `${cap(s.label)}: ${s.how}`).join('. ')}.</p>
      <ul className="mt-6" aria-label="ports in firing order">
        {cylinders.map((c) => (
          <li
            key={c}
            className={`grid grid-cols-[64px_repeat(3,minmax(0,1fr))] items-center gap-8 py-2 border-l-6 pl-6 ${c === next ? 'border-l-ink' : 'border-l-transparent'}`}
          >
            <span className="fig text-reading leading-none">{c}</span>
            {each.map((s) => (
              <Toggle.Root
                key={s.id}
                className="act justify-center data-[state=on]:bg-ink data-[state=on]:text-face"
                aria-label={`cylinder ${c}: ${s.label}`}
                pressed={stageDone(done, s.id, c)}
                disabled={!seen}
                onPressedChange={() => tap(s, c)}
              >
                {s.label}
              </Toggle.Root>
            ))}
          </li>
        ))}
      </ul>
      {why && (
        <p className="wrong" role="alert">
          {why}
        </p>
      )}
    </li>
  )
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
