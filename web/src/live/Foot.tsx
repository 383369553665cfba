import { useState } from 'react'
import { Choose } from '../kit/Choose.js'
import { postJson } from '../store/api.js'
import { FOOT_ACTS, TROUBLES } from './words.js'

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
        choices={FOOT_ACTS.map((f) => ({ value: f.label, label: f.label }))}
        onChange={(label) => {
          setFoot(label === 'snap' || label === 'start' ? 'idle' : label)
          send('/api/link/foot', FOOT_ACTS.find((f) => f.label === label)!.foot)
        }}
      />
      <span className="ml-20 text-small text-soft">its cable</span>
      <Choose
        label="cable"
        look="line"
        className="flex gap-14"
        itemClass="px-8"
        value={link}
        choices={TROUBLES.map(([value, label]) => ({ value, label }))}
        onChange={(id) => {
          setLink(id)
          send('/api/link/trouble', { link: id })
        }}
      />
      {problem && <span className="wrong text-small">{problem}</span>}
    </footer>
  )
}
