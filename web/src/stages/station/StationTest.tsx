import { Toggle } from 'radix-ui'
import { useState } from 'react'
import {
  figuresSaid,
  findingId,
  formatIn,
  live,
  parseTyped,
  testForm,
  workOn,
  type FindingRecord,
  type Outcome,
  type StationId,
  type TestField,
  type TestInfo,
  type VisitFile,
} from '@uvula/core'
import { FieldRow } from '../../kit/FieldRow.js'
import { Tick } from '../../kit/Tick.js'
import { newId } from '../../store/database.js'
import { useUnit } from '../../store/settings.js'
import { useWriter } from '../../store/visit.js'
import { LookNote } from '../look/LookNote.js'
import { answersOf, answerWord } from './words.js'

interface StationTestProps {
  readonly file: VisitFile
  readonly station: StationId
  readonly test: TestInfo
}

/** One test at a station; once something was done about what it looks at it is made anew, beside what it found before. */
export function StationTest(p: StationTestProps) {
  const done = workOn(p.file, { test: p.test.id, station: p.station })
  return <OneTest key={done} {...p} done={done} />
}

/** How, its caution, its figures where it has any, and how it ended. @param done - pieces of work on what it looks at, so far */
function OneTest({ file, station, test, done }: StationTestProps & { readonly done: number }) {
  const { write, remove } = useWriter(file)
  const id = findingId(file, { test: test.id, station }, done)
  const earlier = live(file.findings)
    .filter((x) => x.test === test.id && x.station === station && (x.afterWork ?? 0) < done)
    .sort((a, b) => (a.afterWork ?? 0) - (b.afterWork ?? 0))
  const found = live(file.findings).find((x) => x.id === id) as FindingRecord | undefined
  const caution = test.caution?.id ?? ''
  const ticked = live(file.ticks).some((t) => t.caution === caution)
  const form = testForm(test.id, file.vehicle.spec)
  const [figures, setFigures] = useState<Readonly<Record<string, number>>>(() => figuresOf(found))
  const [problem, setProblem] = useState<string>()
  const complete = form?.fields.every((q) => q.optional || figures[q.id] !== undefined) ?? false
  const said = form && complete ? form.judge(figures, file, { station }) : undefined
  const blocked = test.caution?.stop === true && !ticked
  const keep = (outcome: Outcome, item?: string): void => {
    // a figure that is none is put right first: it must not be judged without
    if (problem) return
    write('findings', id, {
      visitId: file.visit.id,
      test: test.id,
      station,
      outcome,
      ...(item ? { item } : {}),
      afterWork: done,
      ...(said?.value === undefined ? {} : { value: said.value, unit: said.unit }),
      ...(complete ? { figures } : {}),
      ...(found?.note ? { note: found.note } : {}),
    })
  }
  const same = JSON.stringify(figuresOf(found)) === JSON.stringify(figures)
  return (
    <div className="px-0 py-8 border-b border-b-line" data-test={test.id}>
      <h3>
        <b>{test.label}</b>{' '}
        <span className="text-soft text-small">
          {test.minutes} min{test.needs ? `, ${test.needs}` : ''}
        </span>
      </h3>
      <p className="text-small">{test.how}</p>
      {earlier.map((x) => (
        <p key={x.id} className="border-l-6 border-l-line pl-10 my-6 text-small" data-earlier={x.outcome}>
          {x.afterWork ? 'Tried after the work so far' : 'Before the work'}: <b>{answerWord(x)}</b>
          {[figuresSaid(file, x)?.said.replace(/\.$/, ''), x.note].filter(Boolean).map((words) => `. ${words}`)}
        </p>
      ))}
      {earlier.length > 0 && <p className="text-small">Tried again, after the work:</p>}
      {test.caution && (
        <div
          className={`caution px-10 py-6 mx-0 my-6 border-ink gap-12 flex items-center justify-between narrow:flex-col narrow:items-stretch ${test.caution.stop ? 'stop border-4' : 'border-2'}`}
        >
          <p className="text-small">
            <b>{test.caution.stop ? 'STOP' : 'Mind'}</b> {test.caution.text}{' '}
            <span className="text-soft">If it has happened: {test.caution.ifHappened}</span>
          </p>
          {test.caution.stop && (
            <Tick
              className="flex-none whitespace-nowrap"
              checked={ticked}
              onChange={() =>
                !ticked && write('ticks', `${file.visit.id}:tick:${newId()}`, { visitId: file.visit.id, caution })
              }
            >
              seen to
            </Tick>
          )}
        </div>
      )}
      {form && (
        <ol aria-label={`figures of ${test.label}`}>
          {form.fields.map((q) => (
            <Figure
              key={q.id}
              id={`${test.id}-${station}-${q.id}`}
              field={q}
              value={figures[q.id]}
              disabled={blocked}
              onProblem={setProblem}
              onKeep={(x) => {
                setProblem(undefined)
                setFigures((was) => {
                  const { [q.id]: _, ...rest } = was
                  return x === undefined ? rest : { ...rest, [q.id]: x }
                })
              }}
            />
          ))}
        </ol>
      )}
      {said && (
        <p className="border-l-6 border-l-ink pl-10" data-said={said.outcome}>
          {said.said}
        </p>
      )}
      <div className="mt-6 gap-8 flex flex-wrap">
        {answersOf(test, found).map((a) => {
          const isKept = found?.outcome === a.outcome && (found.item ?? undefined) === a.item
          const isSaid = said?.outcome === a.outcome && (a.item === undefined || said.item === a.item)
          return (
            <Toggle.Root
              key={a.word}
              className={`act data-[state=on]:bg-ink data-[state=on]:text-face ${isSaid && !isKept ? 'border-4' : ''}`}
              disabled={blocked}
              pressed={isKept && same}
              onPressedChange={() => (isKept && same ? remove('findings', id) : keep(a.outcome, a.item))}
            >
              {a.word}
            </Toggle.Root>
          )
        })}
      </div>
      {problem && (
        <p className="wrong text-small" role="alert">
          {problem}
        </p>
      )}
      {found && found.outcome !== 'pass' && <LookNote file={file} finding={found} />}
    </div>
  )
}

/** Figures of a finding; an older one had its result alone. */
const figuresOf = (x: FindingRecord | undefined): Readonly<Record<string, number>> =>
  x?.figures ?? (x?.test === 'pinch' && x.value !== undefined ? { shut: x.value } : {})

/** One figure of a test, in this device's unit. */
function Figure({
  id,
  field,
  value,
  disabled,
  onKeep,
  onProblem,
}: {
  id: string
  field: TestField
  value: number | undefined
  disabled: boolean
  onKeep: (x: number | undefined) => void
  onProblem: (problem: string) => void
}) {
  const unit = useUnit(field.quantity)
  const [draft, setDraft] = useState<string>()
  const keep = (): void => {
    if (draft === undefined) return
    if (draft.trim() === '') {
      setDraft(undefined)
      return onKeep(undefined)
    }
    const typed = parseTyped(field.unit ? draft.replace(field.unit, '') : draft, field.quantity, unit)
    if (!typed.ok) return onProblem(`${field.label}: ${typed.message}`)
    if (!(typed.value >= field.min && typed.value <= field.max))
      return onProblem(
        `${field.label}: ${formatIn(field.min, unit)} to ${formatIn(field.max, unit)} ${field.unit ?? unit.symbol}`.trim(),
      )
    setDraft(undefined)
    onKeep(typed.value)
  }
  return (
    <FieldRow
      id={id}
      label={field.label}
      unit={field.unit ?? unit.symbol}
      wide
      disabled={disabled}
      value={draft ?? (value === undefined ? '' : formatIn(value, unit))}
      onText={setDraft}
      onBlur={keep}
      onEnter={keep}
    />
  )
}
