import { useState } from 'react'
import { Choose } from '../kit/Choose.js'
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
      <Choose
        label="pedal and key"
        look="line"
        className="flex gap-14"
        itemClass="px-8"
        value={foot}
        choices={FEET.map((f) => ({ value: f.label, label: f.label }))}
        onChange={(label) => {
          setFoot(label === 'snap' || label === 'start' ? 'idle' : label)
          send('/api/link/foot', FEET.find((f) => f.label === label)!.foot)
        }}
      />
      <span className="ml-20 text-small text-soft">its cable</span>
      <Choose
        label="cable"
        look="line"
        className="flex gap-14"
        itemClass="px-8"
        value={link}
        choices={LINKS.map(([value, label]) => ({ value, label }))}
        onChange={(id) => {
          setLink(id)
          send('/api/link/trouble', { link: id })
        }}
      />
      {problem && <span className="wrong text-small">{problem}</span>}
    </footer>
  )
}
