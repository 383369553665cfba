import { X } from 'lucide-react'
import { useState } from 'react'
import {
  airPathOf,
  live,
  lookItemsOf,
  maybeStation,
  stationStates,
  TESTS,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { RingWords } from '../../kit/Rings.js'
import { RING_WORDS, Ring } from '../../parts/Ring.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { LookItem } from '../look/Look.js'
import { Mend } from '../trace/Mend.js'
import { Part } from './Part.js'
import { StationTest } from './StationTest.js'
import { TakePhoto } from './TakePhoto.js'

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
        <Part file={file} id={id} />
      </section>
      <section>
        {tests.map((t) => (
          <StationTest key={t.id} file={file} station={id} test={t} />
        ))}
        {failed && <Mend file={file} station={id} shop={shop} />}
        {!tests.length && <p className="text-soft">Looking is the test here.</p>}
      </section>
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
