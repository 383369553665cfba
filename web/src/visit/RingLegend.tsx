import { memo } from 'react'
import type { StationState } from '@uvula/core'
import { Hint } from '../kit/Hint.js'
import { Ring, RING_WORDS } from '../parts/Ring.js'

/** What the rings of the air line say, one tap away. */
export const RingLegend = memo(function RingLegend() {
  return (
    <Hint word="rings" label="what the rings say">
      <ul>
        {(Object.keys(RING_WORDS) as StationState[]).map((state) => (
          <li key={state} className="flex items-center gap-10">
            <svg width="34" height="36" aria-hidden="true">
              <Ring x={17} y={19} r={10} state={state} />
            </svg>
            {RING_WORDS[state]}
          </li>
        ))}
      </ul>
    </Hint>
  )
})
