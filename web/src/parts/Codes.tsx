import { useState } from 'react'
import { CodeForm } from '@uvula/contract'
import { live, maybeChannel, whoseSaid, type ChannelId, type CodeRecord, type VisitFile } from '@uvula/core'
import { Choose } from '../kit/Choose.js'
import { Tick } from '../kit/Tick.js'
import { useChecked } from '../kit/useChecked.js'
import { ownFields, useWriter } from '../store/visit.js'
import { useFormat } from '../words/format.js'

const WHEN: readonly CodeRecord['when'][] = ['before', 'after', 'after-drive']

/** Codes as they were read: typed, told whose they are, marked as cleared. @param at - fixed where a bench asks for one time only */
export function Codes({ file, at }: { file: VisitFile; at?: CodeRecord['when'] }) {
  const { write } = useWriter(file)
  const [chosen, setWhen] = useState<CodeRecord['when']>('after')
  const when = at ?? chosen
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
        {!at && (
          <Choose
            label="when it was read"
            look="box"
            className="flex"
            value={when}
            choices={WHEN.map((w) => ({ value: w, label: w.replace('-', ' ') }))}
            onChange={setWhen}
          />
        )}
        <form onSubmit={(e) => void add(e)}>
          <input
            className="field fig w-240"
            aria-label="code"
            placeholder="type a code"
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
      <ul>
        {live(file.codes)
          .filter((c) => !at || c.when === at)
          .map((c) => {
            return (
              <li
                className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
                key={c.id}
                data-code={c.code}
              >
                <span>
                  <b>{c.code}</b> {c.when.replace('-', ' ')}: {whoseSaid(file, c)}
                  {c.frame && <Frame values={c.frame} />}
                </span>
                <span className="ml-6 text-soft text-small">{c.state}</span>
                <Tick
                  checked={c.cleared}
                  onChange={() => write('codes', c.id, { ...ownFields(c), cleared: !c.cleared })}
                >
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
