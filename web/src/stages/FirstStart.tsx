import { useState } from 'react'
import {
  CLEARING_WIPES,
  expectedCode,
  FIRST_MINUTES,
  live,
  maybeChannel,
  mayStart,
  restartLocked,
  TURNED_BY_HAND,
  type ChannelId,
  type CodeRecord,
  type VisitFile,
} from '@uvula/core'
import { newId } from '../store/database.js'
import { ownFields, useWriter } from '../store/visit.js'
import { useFormat } from '../words/format.js'

const W = 470
const MINUTES = 10

/** What the first minutes bring, what locks the starter, and the codes that are ours. */
export function FirstStart({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const locked = restartLocked(file)
  const gate = mayStart(file)
  const X = (m: number): number => 10 + (m / MINUTES) * (W - 20)
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        {locked ? (
          <div
            className="caution stop px-10 py-6 mx-0 my-6 border-4 border-ink gap-12 flex items-center justify-between narrow:flex-col narrow:items-stretch"
            role="alert"
          >
            <p>
              <b>STOP: do not crank.</b> It stalled while liquid was fed; all of it may stand in one cylinder and bends
              a rod. Fuel and ignition off, plugs out (injectors or glow plugs on a diesel), turn by hand, then spin,
              holes screened, stand clear. Waiting does not empty a cylinder.{' '}
              <span className="text-soft">
                If it has been cranked: stop, and look for a bent rod by compression before anything else.
              </span>
            </p>
            <button
              type="button"
              className="act strong"
              onClick={() =>
                write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution: TURNED_BY_HAND })
              }
            >
              plugs out, turned by hand
            </button>
          </div>
        ) : gate.ok ? (
          <p className="name">May be started: nothing is open.</p>
        ) : (
          <div className="wrong" role="alert">
            <p className="name">Not yet</p>
            {gate.refusals.map((r) => (
              <p key={r.message}>{r.message}</p>
            ))}
          </div>
        )}
        <svg className="chart wide" viewBox={`0 0 ${W} 268`} role="img" aria-label="what to expect, minute by minute">
          {FIRST_MINUTES.map((m, i) => (
            <g key={m.say}>
              <rect
                x={X(m.from)}
                y={14 + i * 44}
                width={Math.max(6, X(m.to) - X(m.from))}
                height={16}
                className="pipe"
              />
              <text x={Math.min(X(m.from), W - 300)} y={48 + i * 44} className="chart-unit">
                {m.say}
              </text>
            </g>
          ))}
          <line x1={X(0)} x2={X(MINUTES)} y1={234} y2={234} className="chart-axis" />
          {[0, 2, 4, 6, 8, 10].map((t) => (
            <g key={t}>
              <line x1={X(t)} x2={X(t)} y1={234} y2={244} className="chart-tick" />
              <text x={X(t)} y={263} textAnchor="middle">
                {t}
              </text>
            </g>
          ))}
        </svg>
        <p className="text-soft text-small">minutes from key-on. A slow, uneven or stopped starter is liquid: stop.</p>
      </section>
      <section>
        <h2 className="text-soft text-small">codes: read, ours or not, cleared, read again</h2>
        <Codes file={file} />
        <p className="text-small">{CLEARING_WIPES}</p>
      </section>
    </div>
  )
}

const WHEN: readonly CodeRecord['when'][] = ['before', 'after', 'after-drive']

function Codes({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const [draft, setDraft] = useState('')
  const [when, setWhen] = useState<CodeRecord['when']>('after')
  const [problem, setProblem] = useState<string>()
  const add = (): void => {
    const code = draft.trim().toUpperCase()
    if (!code) return
    if (!/^[PBCU][0-9A-F]{4}$/.test(code))
      return setProblem(`"${draft}" is not a code: one letter of P, B, C, U and four digits, as in P0171.`)
    write('codes', `${file.visit.id}:code:${when}:${code}`, {
      visitId: file.visit.id,
      code,
      state: 'stored',
      when,
      cleared: false,
    })
    setDraft('')
    setProblem(undefined)
  }
  return (
    <>
      <div className="mx-0 my-8 gap-8 flex flex-wrap">
        {WHEN.map((w) => (
          <button key={w} type="button" className="act" aria-pressed={w === when} onClick={() => setWhen(w)}>
            {w.replace('-', ' ')}
          </button>
        ))}
        <input
          className="field fig w-240"
          aria-label="code"
          placeholder="P0507"
          value={draft}
          onChange={(e) => setDraft(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && add()}
          onBlur={add}
        />
      </div>
      {problem && <p className="wrong text-small">{problem}</p>}
      <ul className="work-rows">
        {live(file.codes).map((c) => {
          const own = expectedCode(c.code)
          return (
            <li
              className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
              key={c.id}
              data-code={c.code}
            >
              <span>
                <b>{c.code}</b> {c.when.replace('-', ' ')}: {own ? `ours, ${own.label}` : 'not ours: a finding'}
                {c.frame && <Frame values={c.frame} />}
              </span>
              <span className="ml-6 text-soft text-small">{c.state}</span>
              <button
                type="button"
                className="act"
                aria-pressed={c.cleared}
                onClick={() => write('codes', c.id, { ...ownFields(c), cleared: !c.cleared })}
              >
                {c.cleared ? 'cleared' : 'clear'}
              </button>
            </li>
          )
        })}
      </ul>
    </>
  )
}

/** What was kept when a code was set. */
function Frame({ values }: { values: NonNullable<CodeRecord['frame']> }) {
  const format = useFormat()
  return (
    <span className="text-soft text-small">
      {' '}
      freeze-frame:{' '}
      {(Object.entries(values) as [ChannelId, number][])
        .map(([id, x]) => `${maybeChannel(id)!.label} ${format(maybeChannel(id)!.quantity, x)}`)
        .join(', ')}
    </span>
  )
}
