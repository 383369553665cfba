import { Camera, X } from 'lucide-react'
import { Toggle } from 'radix-ui'
import { useRef, useState } from 'react'
import {
  airPathOf,
  live,
  lookItemsOf,
  maybeStation,
  parseTyped,
  QUANTITIES,
  stationStates,
  TESTS,
  type FindingRecord,
  type Outcome,
  type StationId,
  type TestInfo,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { RingWords } from '../../kit/Rings.js'
import { Tick } from '../../kit/Tick.js'
import { RING_WORDS, Ring } from '../../parts/Ring.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { LookItem } from '../look/Look.js'
import { LookNote } from '../look/LookNote.js'
import { Mend } from '../trace/Mend.js'

/** Tests that can be done at any station that lets air in. */
const ANYWHERE = ['pinch', 'smoke', 'enrichment']

/** The bench of one station: looks, tests with their cautions, notes, photos, ways to mend. */
export function Station({
  file,
  id,
  shop,
  onClose,
}: {
  file: VisitFile
  id: StationId
  shop: Shop
  onClose: () => void
}) {
  const path = airPathOf(file.vehicle.spec)
  const placed = maybeStation(path, id)
  const { write } = useWriter(file)
  if (!placed)
    return (
      <p className="bench px-gap pt-40 pb-14 max-w-640 text-lead narrow:px-14 narrow:pb-10">
        This engine has no such station.
      </p>
    )
  const state = stationStates(file).get(id) ?? 'unseen'
  const lets = ['sensor-to-plate', 'behind-plate', 'runner'].includes(placed.zone)
  const tests = TESTS.filter(
    (t) =>
      t.admissible(file.vehicle.spec) &&
      (t.at === id || (lets && ANYWHERE.includes(t.id) && (t.id !== 'pinch' || placed.info.pinchable))),
  )
  const failed = live(file.findings).some((f) => f.station === id && f.outcome === 'fail' && f.test !== 'note')
  const photos = live(file.photos).filter((p) => p.station === id)
  return (
    <div
      className="bench px-gap py-14 gap-y-8 gap-x-32 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1"
      data-bench={id}
    >
      <header className="gap-12 col-span-full flex items-center">
        <svg width="46" height="46" aria-hidden="true">
          <Ring x={23} y={23} r={15} state={state} />
        </svg>
        <h2 className="name flex-1">
          {placed.info.label} <span className="text-soft">{RING_WORDS[state]}</span>
        </h2>
        <button type="button" className="act" onClick={onClose}>
          <X size={22} aria-hidden /> back to the bench
        </button>
      </header>
      <section>
        <RingWords />
        <ul>
          {lookItemsOf(file.vehicle.spec)
            .filter((i) => i.station === id)
            .map((i) => (
              <LookItem key={i.id} file={file} item={i} />
            ))}
        </ul>
        <p className="text-soft text-small">{placed.info.reason}.</p>
        <Notes
          file={file}
          id={id}
          write={(note) =>
            write('findings', `${file.visit.id}:note:${id}:${newId()}`, {
              visitId: file.visit.id,
              test: 'note',
              station: id,
              outcome: 'unclear',
              note,
            })
          }
        />
        <div className="photos mt-12 gap-12 flex flex-wrap items-end">
          {photos.map((p) =>
            p.receivedAt ? (
              <img
                className="border-2 border-ink w-150 h-112 object-cover"
                key={p.id}
                src={`/api/photos/${encodeURIComponent(p.id)}/picture`}
                alt={`${placed.info.label}, ${p.at.slice(0, 10)}`}
              />
            ) : (
              <p key={p.id} className="text-small">
                photo on its way
              </p>
            ),
          )}
          <TakePhoto
            onTake={(mime, content) =>
              write('photos', `${file.visit.id}:photo:${newId()}`, {
                visitId: file.visit.id,
                station: id,
                mime,
                content,
              })
            }
          />
        </div>
      </section>
      <section>
        {tests.map((t) => (
          <Test key={t.id} file={file} station={id} test={t} />
        ))}
        {failed && <Mend file={file} station={id} shop={shop} />}
        {!tests.length && <p className="text-soft">Looking is the test here.</p>}
      </section>
    </div>
  )
}

/** What a test can answer. */
const ANSWERS: readonly { readonly outcome: Outcome; readonly word: string }[] = [
  { outcome: 'pass', word: 'nothing' },
  { outcome: 'unclear', word: 'unclear' },
  { outcome: 'fail', word: 'found it' },
]

const MEASURES: Partial<Record<string, { readonly unit: '%' | 'mm²'; readonly ask: string }>> = {
  pinch: { unit: '%', ask: 'total trim with it shut, %' },
  smoke: { unit: 'mm²', ask: 'area shown, mm², if the tester says' },
}

function Test({ file, station, test }: { file: VisitFile; station: StationId; test: TestInfo }) {
  const { write, remove } = useWriter(file)
  const id = `${file.visit.id}:${test.id}:${station}`
  const found = live(file.findings).find((x) => x.id === id) as FindingRecord | undefined
  const caution = test.caution?.id
  const ticked = live(file.ticks).some((t) => t.caution === caution)
  const [draft, setDraft] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const measure = MEASURES[test.id]
  const blocked = test.caution?.stop === true && !ticked
  const judge = (outcome: Outcome): void => {
    if (found?.outcome === outcome && draft === undefined) return remove('findings', id)
    let value = found?.value
    if (measure && draft !== undefined && draft.trim() !== '') {
      const quantity = measure.unit === '%' ? 'ratio' : 'number'
      const typed = parseTyped(draft.replace(/mm²|mm2/g, ''), quantity, QUANTITIES[quantity].units[0])
      if (!typed.ok) return setProblem(typed.message)
      const inside = measure.unit === '%' ? Math.abs(typed.value) <= 60 : typed.value >= 0 && typed.value <= 2000
      if (!inside)
        return setProblem(
          measure.unit === '%' ? 'A total trim lies between −60 and 60 %.' : 'An area lies between 0 and 2000 mm².',
        )
      value = typed.value
    }
    setProblem(undefined)
    setDraft(undefined)
    write('findings', id, {
      visitId: file.visit.id,
      test: test.id,
      station,
      outcome,
      ...(value === undefined || !measure ? {} : { value, unit: measure.unit }),
      ...(found?.note ? { note: found.note } : {}),
    })
  }
  return (
    <div className="px-0 py-8 border-b border-b-line" data-test={test.id}>
      <h3>
        <b>{test.label}</b>{' '}
        <span className="text-soft text-small">
          {test.minutes} min{test.needs ? `, ${test.needs}` : ''}
        </span>
      </h3>
      <p className="text-small">{test.how}</p>
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
      <div className="mt-6 gap-8 flex flex-wrap">
        {measure && (
          <input
            className="field fig flex-[1_1_190px] w-auto text-lead"
            inputMode="decimal"
            aria-label={measure.ask}
            placeholder={measure.ask}
            value={draft ?? found?.value?.toString() ?? ''}
            onChange={(e) => setDraft(e.target.value)}
          />
        )}
        {ANSWERS.map((a) => (
          <Toggle.Root
            key={a.outcome}
            className="act data-[state=on]:bg-ink data-[state=on]:text-face"
            disabled={blocked}
            pressed={found?.outcome === a.outcome}
            onPressedChange={() => judge(a.outcome)}
          >
            {a.word}
          </Toggle.Root>
        ))}
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

function Notes({ file, id, write }: { file: VisitFile; id: StationId; write: (note: string) => void }) {
  const [draft, setDraft] = useState('')
  const notes = live(file.findings).filter((f) => f.test === 'note' && f.station === id)
  const keep = (): void => {
    if (draft.trim()) write(draft.trim())
    setDraft('')
  }
  return (
    <div>
      {notes.map((n) => (
        <p key={n.id} className="text-small">
          {n.note} <span className="text-soft">{n.by}</span>
        </p>
      ))}
      <input
        className="field"
        placeholder="note"
        aria-label="note"
        value={draft}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => e.key === 'Enter' && keep()}
      />
    </div>
  )
}

/** Longest edge of a kept photo [px]: plenty to see a crack, small enough for a poor link. */
const PHOTO_EDGE = 1600

function TakePhoto({ onTake }: { onTake: (mime: string, base64: string) => void }) {
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string>()
  const take = async (f: File | undefined): Promise<void> => {
    if (!f) return
    try {
      const picture = await createImageBitmap(f)
      const k = Math.min(1, PHOTO_EDGE / Math.max(picture.width, picture.height))
      const canvas = document.createElement('canvas')
      canvas.width = Math.round(picture.width * k)
      canvas.height = Math.round(picture.height * k)
      canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
      onTake('image/jpeg', canvas.toDataURL('image/jpeg', 0.85).split(',')[1])
      setProblem(undefined)
    } catch {
      setProblem(`${f.name} is not a picture that can be shown.`)
    }
  }
  return (
    <>
      <button type="button" className="act" onClick={() => input.current?.click()}>
        <Camera size={22} aria-hidden /> photo
      </button>
      <input
        ref={input}
        type="file"
        accept="image/*"
        capture="environment"
        hidden
        data-testid="photo-input"
        onChange={(e) => void take(e.target.files?.[0])}
      />
      {problem && <p className="wrong text-small">{problem}</p>}
    </>
  )
}
