import type { VisitFile } from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { Address } from '../../parts/Address.js'
import type { Gauges } from './useGauges.js'

const KEY = 'uvula-gauges'

/** Gauges that read by themselves: a box on the network, or simulated throttles to practise on. */
export function GaugeLink({
  file,
  gauges: { state, problem, ask },
  tone,
  onTone,
}: {
  file: VisitFile
  gauges: Gauges
  tone: boolean
  onTone: (on: boolean) => void
}) {
  const visitId = file.visit.id
  const mine = state && state.phase !== 'off' && state.visitId === visitId
  if (mine)
    return (
      <div className="mb-14 flex flex-wrap items-center gap-8" data-gauges={state.phase}>
        <p className="w-full">
          {state.phase === 'running'
            ? state.standIn
              ? 'Simulated throttles are read, for practice.'
              : 'The gauges are read.'
            : state.phase === 'connecting'
              ? 'Waiting for the gauges.'
              : 'The gauges say nothing any more.'}{' '}
          {state.phase !== 'running' && state.message}
        </p>
        <Tick checked={tone} onChange={onTone}>
          tone until balanced
        </Tick>
        <button type="button" className="act" onClick={() => void ask('off', {})}>
          let go of the gauges
        </button>
      </div>
    )
  return (
    <div className="mb-14 flex flex-wrap items-end gap-8" data-gauges="off">
      <button
        type="button"
        className="act"
        onClick={() => void ask('stand-in', { visitId, seed: 1 + (Date.now() % 100_000) })}
      >
        practise on simulated throttles
      </button>
      <Address
        label="gauges at"
        keep={KEY}
        example="192.168.0.20:36000"
        problem={problem}
        onConnect={(host, port) => void ask('connect', { visitId, host, port })}
      />
    </div>
  )
}
