import { useState } from 'react'
import { postJson } from '../store/api.js'

const FEET: readonly { readonly label: string; readonly foot: object }[] = [
  { label: 'idle', foot: { kind: 'idle' } },
  { label: '1500', foot: { kind: 'hold', rpm: 1500 } },
  { label: '2500', foot: { kind: 'hold', rpm: 2500 } },
  { label: 'A/C on', foot: { kind: 'load' } },
  { label: 'snap', foot: { kind: 'snap' } },
  { label: 'drive 60', foot: { kind: 'cruise', kph: 60 } },
  { label: 'key off', foot: { kind: 'key-on' } },
  { label: 'start', foot: { kind: 'start' } },
]
const LINKS: readonly [string, string][] = [
  ['none', 'sound link'],
  ['usual', 'usual'],
  ['garbled', 'spoilt bytes'],
  ['silent', 'silent'],
  ['gone', 'pull the plug'],
]

/** The simulated car's pedal and key, and its cable. */
export function Foot() {
  const [foot, setFoot] = useState('')
  const [link, setLink] = useState('')
  const [problem, setProblem] = useState<string>()
  const send = (path: string, body: object): void =>
    void postJson(path, body).then(
      () => setProblem(undefined),
      (e: Error) => setProblem(e.message),
    )
  return (
    <footer
      className="px-gap py-2 border-t-2 border-t-ink gap-y-4 gap-x-14 [grid-area:foot] flex items-center overflow-x-auto whitespace-nowrap"
      aria-label="the simulated car"
    >
      <span className="text-soft text-small">its pedal and key</span>
      {FEET.map((f) => (
        <button
          className="px-8 py-0 border-b-4 border-b-transparent aria-pressed:border-b-ink aria-pressed:font-semibold"
          key={f.label}
          type="button"
          aria-pressed={foot === f.label}
          onClick={() => {
            setFoot(f.label === 'snap' || f.label === 'start' ? 'idle' : f.label)
            send('/api/link/foot', f.foot)
          }}
        >
          {f.label}
        </button>
      ))}
      <span className="ml-20 text-soft text-small">its cable</span>
      {LINKS.map(([id, label]) => (
        <button
          className="px-8 py-0 border-b-4 border-b-transparent aria-pressed:border-b-ink aria-pressed:font-semibold"
          key={id}
          type="button"
          aria-pressed={link === id}
          onClick={() => {
            setLink(id)
            send('/api/link/trouble', { link: id })
          }}
        >
          {label}
        </button>
      ))}
      {problem && <span className="wrong text-small">{problem}</span>}
    </footer>
  )
}
