import { useState } from 'react'
import { addFault, faultOf, FAULTS, HEALTHY, type VisitFile } from '@uvula/core'
import type { LinkState } from '@uvula/contract'
import { Choose } from '../kit/Choose.js'
import { postJson } from '../store/api.js'
import { LINK_KINDS } from './words.js'

const KEY = 'uvula-adapter'
/** Where an adapter was last. */
const lastAddress = (): string => localStorage.getItem(KEY) ?? '127.0.0.1:35000'

/** Choosing what to connect to: an adapter, or this very car as a simulated one. */
export function Connect({
  file,
  state,
  reached,
}: {
  file: VisitFile
  state: LinkState | undefined
  reached: boolean | undefined
}) {
  const [address, setAddress] = useState(lastAddress)
  const [fault, setFault] = useState('')
  const [link, setLink] = useState<string>('none')
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  if (file.vehicle.spec.metering === 'none')
    return (
      <p className="bench px-gap pt-40 pb-14 col-span-full max-w-640 text-lead narrow:px-14 narrow:pb-10">
        This engine has no controller to ask, and so no socket. Take its speed by pick-up, its vacuum by gauge, and type
        them under “measure”.
      </p>
    )
  const elsewhere = state && state.phase !== 'off' && state.visitId !== file.visit.id
  const possible = FAULTS.filter((f) => f.id !== 'none' && addFault(HEALTHY, f.id, file.vehicle.spec).ok)
  const go = async (work: () => Promise<unknown>): Promise<void> => {
    setBusy(true)
    setProblem(undefined)
    try {
      await work()
    } catch (e) {
      setProblem((e as Error).message)
    } finally {
      setBusy(false)
    }
  }
  const connect = (): void => {
    const m = /^\s*([\w.-]+)\s*:\s*(\d{1,5})\s*$/.exec(address)
    if (!m) return setProblem(`"${address}" is no address: a name or number and a port, as in 192.168.0.10:35000.`)
    localStorage.setItem(KEY, address.trim())
    void go(() => postJson('/api/link/connect', { visitId: file.visit.id, host: m[1], port: Number(m[2]) }))
  }
  return (
    <main className="px-60 py-30 gap-y-10 gap-x-60 overflow-auto col-span-full row-start-2 grid grid-cols-2 content-start phone:p-16 phone:grid-cols-1">
      {reached === false && (
        <p className="wrong col-span-full">The server is out of reach. It is tried again by itself.</p>
      )}
      {elsewhere && (
        <p className="wrong col-span-full">
          The link is in use for another visit. Connecting here ends it there; what was recorded there is kept.
        </p>
      )}
      {problem && (
        <p className="wrong col-span-full" role="alert">
          {problem}
        </p>
      )}
      <section className="gap-10 flex flex-col items-start">
        <Plug />
        <h2 className="name">The car at the adapter</h2>
        <p className="text-soft">
          Key on, adapter in the diagnostic socket. It passes CAN frames over the network; give its address.
        </p>
        <label className="text-small" htmlFor="adapter">
          address and port
        </label>
        <input
          id="adapter"
          className="field fig text-reading h-60"
          value={address}
          spellCheck={false}
          autoComplete="off"
          onChange={(e) => setAddress(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && connect()}
        />
        <button type="button" className="act next min-h-64 text-name" disabled={busy} onClick={connect}>
          connect
        </button>
      </section>
      <section className="gap-10 flex flex-col items-start">
        <h2 className="name">This car, simulated</h2>
        <p className="text-soft">
          The same engine with a fault of your choice, to practise on or to try an adapter’s speed.
        </p>
        <Choose
          label="fault"
          look="edge"
          className="grid w-full grid-cols-2 gap-x-16"
          itemClass="leading-tight"
          value={fault || 'none'}
          choices={[
            { value: 'none', label: 'sound' },
            ...possible.map((f) => ({ value: f.id as string, label: faultOf(f.id).label })),
          ]}
          onChange={(id) => setFault(id === 'none' ? '' : id)}
        />
        <div className="flex items-center gap-20">
          <span className="text-small text-soft">link</span>
          <Choose
            label="its link"
            look="line"
            className="flex items-center gap-20"
            value={link}
            choices={LINK_KINDS.map(([value, label]) => ({ value, label }))}
            onChange={setLink}
          />
        </div>
        <button
          type="button"
          className="act strong min-h-64 text-name"
          disabled={busy}
          onClick={() =>
            void go(() =>
              postJson('/api/link/stand-in', { visitId: file.visit.id, faults: fault ? [fault] : [], link }),
            )
          }
        >
          stand it up and connect
        </button>
      </section>
    </main>
  )
}

/** The socket under the dash, drawn: sixteen places, the two of the bus filled. */
function Plug() {
  return (
    <svg className="plug" viewBox="0 0 340 120" role="img" aria-label="the diagnostic socket">
      <path d="M20 12 H320 L296 108 H44 Z" className="plug-shell" />
      {Array.from({ length: 16 }, (_, i) => {
        const row = Math.floor(i / 8)
        const pin = i + 1
        return (
          <rect
            key={pin}
            x={(row ? 66 : 54) + (i % 8) * (row ? 27.5 : 31)}
            y={row ? 70 : 32}
            width={14}
            height={20}
            className={pin === 6 || pin === 14 ? 'plug-bus' : 'plug-pin'}
          />
        )
      })}
    </svg>
  )
}
