import { useState } from 'react'
import type { VisitFile } from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
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
  const [address, setAddress] = useState(() => localStorage.getItem(KEY) ?? '')
  const [wrong, setWrong] = useState<string>()
  const visitId = file.visit.id
  const mine = state && state.phase !== 'off' && state.visitId === visitId
  const connect = (): void => {
    const m = /^\s*([\w.-]+)\s*:\s*(\d{1,5})\s*$/.exec(address)
    if (!m) return setWrong(`"${address}" is no address: a name or number and a port, as in 192.168.0.20:36000.`)
    setWrong(undefined)
    localStorage.setItem(KEY, address.trim())
    void ask('connect', { visitId, host: m[1], port: Number(m[2]) })
  }
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
      <div>
        <label className="mb-4 block text-small text-soft" htmlFor="gauges-at">
          gauges at
        </label>
        <input
          id="gauges-at"
          className="field"
          value={address}
          placeholder="192.168.0.20:36000"
          spellCheck={false}
          autoComplete="off"
          onChange={(e) => setAddress(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && connect()}
        />
      </div>
      <button type="button" className="act" disabled={!address.trim()} onClick={connect}>
        connect
      </button>
      {(wrong ?? problem) && (
        <p className="wrong w-full" role="alert">
          {wrong ?? problem}
        </p>
      )}
    </div>
  )
}
