import { useState } from 'react'
import { CodeForm } from '@uvula/contract'
import {
  CLEARING_WIPES,
  expectedCode,
  live,
  maybeChannel,
  mayStart,
  restartLocked,
  TURNED_BY_HAND,
  type ChannelId,
  type CodeRecord,
  type VisitFile,
} from '@uvula/core'
import { FirstMinutes } from './FirstMinutes.js'
import { Tick } from '../../kit/Tick.js'
import { useChecked } from '../../kit/useChecked.js'
import { Choose } from '../../kit/Choose.js'
import { newId } from '../../store/database.js'
import { ownFields, useWriter } from '../../store/visit.js'
import { useFormat } from '../../words/format.js'

/** What the first minutes bring, what locks the starter, and the codes that are ours. */
export function FirstStart({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const locked = restartLocked(file)
  const gate = mayStart(file)
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
        <FirstMinutes />
        <p className="text-soft text-small">A slow, uneven or stopped starter is liquid: stop.</p>
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
  const [when, setWhen] = useState<CodeRecord['when']>('after')
  const form = useChecked(CodeForm, { code: '' })
  const wrong = form.formState.errors.code?.message
  const add = form.handleSubmit(({ code }) => {
    write('codes', `${file.visit.id}:code:${when}:${code}`, {
      visitId: file.visit.id,
      code,
      state: 'stored',
      when,
      cleared: false,
    })
    form.reset({ code: '' })
  })
  return (
    <>
      <div className="mx-0 my-8 gap-8 flex flex-wrap">
        <Choose
          label="when it was read"
          look="box"
          className="flex"
          value={when}
          choices={WHEN.map((w) => ({ value: w, label: w.replace('-', ' ') }))}
          onChange={setWhen}
        />
        <form onSubmit={(e) => void add(e)}>
          <input
            className="field fig w-240"
            aria-label="code"
            placeholder="P0507"
            autoComplete="off"
            aria-invalid={wrong !== undefined}
            {...form.register('code', {
              setValueAs: (t: string) => t.trim().toUpperCase(),
              // a code that is left is kept; nothing typed is no code
              onBlur: () => void (form.getValues('code') ? add() : form.clearErrors()),
            })}
          />
        </form>
      </div>
      {wrong && (
        <p className="wrong text-small" role="alert">
          {form.getValues('code')} {wrong}
        </p>
      )}
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
              <Tick checked={c.cleared} onChange={() => write('codes', c.id, { ...ownFields(c), cleared: !c.cleared })}>
                {c.cleared ? 'cleared' : 'clear'}
              </Tick>
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
