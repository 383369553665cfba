import { Plus } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useFieldArray, useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import {
  OWN_KINDS,
  standingStops,
  type OwnKind,
  type OwnProblem,
  type Procedure,
  type ProcedureRecord,
} from '@uvula/core'
import { Pick } from '../kit/Pick.js'
import { saveFile } from '../parts/saveFile.js'
import { keepProcedure } from '../store/shopRecords.js'
import { ConditionRows } from './ConditionRows.js'
import { checkDraft, draftOf, emptyDraft, EMPTY_STEP, type Draft } from './draft.js'
import { StepRows } from './StepRows.js'
import { TimeStrip } from './TimeStrip.js'

const draftKey = (id: string): string => `uvula-procedure-draft ${id}`
const today = (): string => new Date().toISOString().slice(0, 10)

/** What was typed and not kept yet; it outlives a reload. */
function unfinished(id: string): Draft | undefined {
  try {
    const text = localStorage.getItem(draftKey(id))
    return text ? (JSON.parse(text) as Draft) : undefined
  } catch {
    return undefined
  }
}

/** One procedure as it is written: its strip of time above, its steps and conditions below, what is wrong at the step. */
export function ProcedureEditor({
  id,
  kept,
  from,
  onKept,
  onGone,
}: {
  id: string
  kept?: ProcedureRecord
  from?: Procedure
  onKept: (id: string) => void
  onGone: () => void
}) {
  const navigate = useNavigate()
  const form = useForm<Draft>({
    defaultValues:
      unfinished(id) ?? (kept ? draftOf(kept.value, today()) : from ? draftOf(from, today()) : emptyDraft(today())),
  })
  const steps = useFieldArray({ control: form.control, name: 'steps' })
  const conditions = useFieldArray({ control: form.control, name: 'conditions' })
  const [problems, setProblems] = useState<readonly OwnProblem[]>([])
  const draft = form.watch()
  const checked = checkDraft(id, draft)
  useEffect(() => {
    const { unsubscribe } = form.watch((d) => {
      try {
        localStorage.setItem(draftKey(id), JSON.stringify(d))
      } catch {
        // a browser that keeps nothing has it until the page is left
      }
    })
    return unsubscribe
  }, [form, id])

  const keep = (): boolean => {
    const now = checkDraft(id, form.getValues())
    setProblems(now.ok ? [] : now.problems)
    if (!now.ok) return false
    keepProcedure(now.value, kept?.version ?? 0)
    localStorage.removeItem(draftKey(id))
    return true
  }
  const at = (step: number): OwnProblem | undefined => problems.find((p) => p.step === step)
  const rest = problems.filter((p) => p.step === undefined)
  return (
    <form
      className="grid gap-14"
      aria-label="procedure"
      onSubmit={(e) => {
        e.preventDefault()
        if (keep()) onKept(id)
      }}
    >
      <div className="grid grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)_150px] gap-16 narrow:grid-cols-1">
        <Line label="name">
          <input
            className="field text-lead font-semibold"
            aria-label="name"
            maxLength={60}
            {...form.register('label')}
          />
        </Line>
        <Line label="read in: book, page, bulletin">
          <input className="field" aria-label="source" maxLength={120} {...form.register('source')} />
        </Line>
        <Line label="on">
          <input className="field" type="date" aria-label="read on" {...form.register('sourceDate')} />
        </Line>
      </div>
      <div className="grid grid-cols-[220px_minmax(0,1fr)] gap-16 narrow:grid-cols-1">
        <Line label="it is for">
          <Pick<OwnKind>
            label="it is for"
            value={draft.kind}
            options={OWN_KINDS.map((k) => ({ value: k.id, label: k.label }))}
            onChange={(k) => form.setValue('kind', k)}
          />
        </Line>
        <Line label="why">
          <input className="field" aria-label="why" maxLength={300} {...form.register('why')} />
        </Line>
      </div>
      <TimeStrip
        steps={checked.ok ? checked.value.steps : stripOf(id, draft)}
        wrong={problems.find((p) => p.step)?.step}
      />
      <StepRows form={form} rows={steps} problemAt={at} />
      <button type="button" className="act justify-self-start" onClick={() => steps.append(EMPTY_STEP)}>
        <Plus size={20} aria-hidden /> another step
      </button>
      <ConditionRows form={form} rows={conditions} />
      <p className="text-small text-soft">
        Standing before each:{' '}
        {standingStops(draft.kind)
          .map((s) => `STOP ${s.label}`)
          .join('; ')}
        .
      </p>
      {rest.map((p) => (
        <p key={p.field + p.message} className="wrong" role="alert">
          {p.message}
        </p>
      ))}
      <div className="flex flex-wrap gap-8">
        <button type="submit" className="act strong">
          keep it
        </button>
        <button
          type="button"
          className="act"
          onClick={() => keep() && void navigate(`/procedures/${encodeURIComponent(id)}/try`)}
        >
          keep it and try it
        </button>
        {kept && (
          <>
            <button
              type="button"
              className="act"
              onClick={() =>
                saveFile(
                  new Blob([JSON.stringify(kept.value, null, 1)], { type: 'application/json' }),
                  `${kept.value.label}.uvula-procedure.json`,
                )
              }
            >
              save as a file
            </button>
            <button
              type="button"
              className="act"
              onClick={() => {
                keepProcedure(kept.value, kept.version, true)
                onGone()
              }}
            >
              take it off
            </button>
          </>
        )}
      </div>
    </form>
  )
}

/** Steps as far as they are typed, for the strip. */
const stripOf = (id: string, draft: Draft) =>
  draft.steps.map((s) => {
    const one = checkDraft(id, {
      ...draft,
      label: 'x',
      source: 'x',
      conditions: [],
      steps: [{ ...s, say: s.say || '–' }],
    })
    return one.ok ? one.value.steps[0] : { say: s.say, rule: { kind: 'at-least', seconds: 0 } as const }
  })

function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div>
      <span className="block text-small text-soft">{label}</span>
      {children}
    </div>
  )
}
