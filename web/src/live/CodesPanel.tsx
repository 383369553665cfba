import { useState } from 'react'
import {
  CLEARING_WIPES,
  codeWords,
  live,
  maybeChannel,
  NO_CODES,
  remediesOf,
  whoseCode,
  type ChannelId,
  type CodeRecord,
  type Gate,
  type VisitFile,
} from '@uvula/core'
import type { CodesRead } from '@uvula/contract'
import { Working } from '../kit/Working.js'
import { postJson } from '../store/api.js'
import { ownFields, useWriter } from '../store/visit.js'
import { sayTime, useFormat } from '../words/format.js'

/** States in the order in which they count. */
const STATES = ['stored', 'pending', 'permanent'] as const satisfies readonly CodeRecord['state'][]

/** Codes, freeze-frame and readiness: read, kept in the visit, cleared and read again. */
export function CodesPanel({ file, able, keep: mayKeep }: { file: VisitFile; able: boolean; keep: Gate }) {
  const { write } = useWriter(file)
  const format = useFormat()
  const [read, setRead] = useState<CodesRead>()
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState<string>()
  const [asking, setAsking] = useState(false)
  const worked = remediesOf(file).length > 0 || live(file.steps).length > 0
  const cleared = live(file.codes).some((c) => c.cleared)
  const when: CodeRecord['when'] = cleared ? 'after-drive' : worked ? 'after' : 'before'
  const codes = read ? [...new Set([...read.stored, ...read.pending, ...read.permanent])] : []
  const standing = (code: string): string => STATES.filter((state) => read?.[state].includes(code)).join(' and ')
  const ask = async (path: string, body: object): Promise<CodesRead | undefined> => {
    setBusy(true)
    setProblem(undefined)
    try {
      const answer = await postJson<CodesRead>(path, body)
      setRead(answer)
      return answer
    } catch (e) {
      setProblem((e as Error).message)
      return undefined
    } finally {
      setBusy(false)
    }
  }
  const keep = (answer: CodesRead): void => {
    const { visit } = file
    const found = new Set([...answer.permanent, ...answer.stored, ...answer.pending])
    if (!found.size && when === 'before' && !visit.conditions.includes(NO_CODES))
      write('visits', visit.id, { ...ownFields(visit), conditions: [...visit.conditions, NO_CODES] })
    for (const code of found) {
      // one record a code: what is stored counts before what is pending
      const state = STATES.find((x) => answer[x].includes(code))!
      const id = `${file.visit.id}:code:${when}:${code}`
      const had = live(file.codes).find((c) => c.id === id)
      if (had?.state !== state)
        write('codes', id, {
          visitId: file.visit.id,
          code,
          state,
          when,
          cleared: had?.cleared ?? false,
          frame: answer.frame?.code === code ? answer.frame.values : (had?.frame ?? null),
        })
    }
  }
  const readNow = async (): Promise<void> => {
    const answer = await ask('/api/link/codes', {})
    if (answer && mayKeep.ok) keep(answer)
  }
  const clear = async (): Promise<void> => {
    setAsking(false)
    const before = live(file.codes).filter((c) => !c.cleared)
    if (!(await ask('/api/link/codes/clear', { understood: true })) || !mayKeep.ok) return
    for (const c of before) write('codes', c.id, { ...ownFields(c), cleared: true })
  }
  const none = read && codes.length === 0
  const open = read?.monitors?.monitors.filter((m) => !m.complete) ?? []
  return (
    <section aria-label="codes">
      <div className="mx-0 my-8 gap-8 flex flex-wrap">
        <button type="button" className="act" disabled={!able || busy} onClick={() => void readNow()}>
          {read ? 'read again' : 'read codes'}
        </button>
        <button type="button" className="act" disabled={!able || busy || !read} onClick={() => setAsking(true)}>
          clear
        </button>
      </div>
      {busy && <Working label="reading codes" />}
      {asking && (
        <div className="wrong">
          <p>
            {CLEARING_WIPES} {mayKeep.ok ? 'What was read is kept in this visit.' : ''}
          </p>
          <div className="mx-0 my-8 gap-8 flex flex-wrap">
            <button type="button" className="act strong" onClick={() => void clear()}>
              clear them
            </button>
            <button type="button" className="act" onClick={() => setAsking(false)}>
              leave them
            </button>
          </div>
        </div>
      )}
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      {!mayKeep.ok && <p className="wrong text-small">{mayKeep.refusals[0].message}</p>}
      {!read && !problem && (
        <p className="text-soft">Stored, pending and permanent, with freeze-frame and readiness.</p>
      )}
      {none && <p>No code at {sayTime(read.at)}.</p>}
      <ul>
        {codes.map((code) => {
          const own = whoseCode(file, { code, when })
          return (
            <li
              className="px-0 py-6 border-b border-b-line leading-snug"
              key={code}
              data-code={code}
              data-state={standing(code)}
            >
              <b className="fig text-name">{code}</b> {codeWords(code) ?? 'see the maker’s list'}
              <br />
              <span className="text-small">
                {standing(code)}
                {own.whose === 'ours' ? `; expected from our own work: ${own.label}` : ''}
              </span>
            </li>
          )
        })}
      </ul>
      {read?.frame && (
        <>
          <h3 className="pt-8 text-soft text-small">freeze-frame of {read.frame.code}</h3>
          <dl className="frame gap-y-0 gap-x-12 grid grid-cols-2">
            {(Object.entries(read.frame.values) as [ChannelId, number][]).map(([id, x]) => (
              <div key={id}>
                <dt className="text-soft text-small">{maybeChannel(id)!.label}</dt>
                <dd className="fig text-lead leading-tight">{format(maybeChannel(id)!.quantity, x)}</dd>
              </div>
            ))}
          </dl>
        </>
      )}
      {read?.monitors && (
        <p className="text-small">
          Lamp {read.monitors.lamp ? 'on' : 'off'}.{' '}
          {open.length ? `Not ready: ${open.map((m) => m.id.replace('-', ' ')).join(', ')}.` : 'Every monitor has run.'}
        </p>
      )}
      {read?.refused.map((r) => (
        <p key={r} className="wrong text-small">
          {r}
        </p>
      ))}
    </section>
  )
}
