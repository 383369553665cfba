import { X } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import {
  airPathOf,
  findsToMend,
  labelForbids,
  live,
  lookItemsOf,
  maybeStation,
  stationInfo,
  stationStates,
  surfacesAt,
  testsAt,
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

/** Ring states of what is no part of the path, where its own word is another. */
const BEYOND_WORDS: Partial<typeof RING_WORDS> = { unseen: 'not tested', failed: 'something found' }

/** The bench of one station: looks, tests with their cautions, notes, photos, ways to mend. */
export function Station({
  file,
  id,
  first,
  shop,
  onClose,
}: {
  file: VisitFile
  id: StationId
  /** Test that it was opened for. */
  first?: string
  shop: Shop
  onClose: () => void
}) {
  const path = airPathOf(file.vehicle.spec)
  const placed = maybeStation(path, id)
  const { write } = useWriter(file)
  // what is beyond the air path is on no engine's drawing
  if (!placed && id !== 'beyond')
    return (
      <p className="bench px-gap pt-40 pb-14 max-w-640 text-lead narrow:px-14 narrow:pb-10">
        This engine has no such station.
      </p>
    )
  const state = stationStates(file).get(id) ?? 'unseen'
  const info = stationInfo(id)
  const looks = lookItemsOf(file.vehicle.spec).filter((i) => i.station === id)
  const tests = [...testsAt(file.vehicle.spec, id)].sort((a, b) => Number(b.id === first) - Number(a.id === first))
  const failed =
    findsToMend(file).some((x) => x.place === id) ||
    // beyond the air path what any test found may be mended, whatever it names
    (id === 'beyond' && live(file.findings).some((f) => f.station === id && f.outcome === 'fail' && f.test !== 'note'))
  const photos = live(file.photos).filter((p) => p.station === id)
  return (
    <div
      className="bench px-gap py-14 gap-y-8 gap-x-32 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1"
      data-bench={id}
    >
      <header className="gap-12 order-first col-span-full flex items-center">
        <svg className="phone:hidden" width="46" height="46" aria-hidden="true">
          <Ring x={23} y={23} r={15} state={state} />
        </svg>
        <h2 className="name flex-1 min-w-0">
          {info.label}{' '}
          <span className="text-soft">{(id === 'beyond' && BEYOND_WORDS[state]) || RING_WORDS[state]}</span>
        </h2>
        {surfacesAt(id, file.vehicle.spec).length > 0 && !labelForbids(file.vehicle.spec, id) && (
          <Link className="act" to={`/visit/${encodeURIComponent(file.visit.id)}/clean?of=${id}`}>
            clean it
          </Link>
        )}
        <button type="button" className="act" onClick={onClose}>
          <X size={22} aria-hidden /> <span className="phone:sr-only">back to the bench</span>
        </button>
      </header>
      <section>
        {looks.length > 0 && <RingWords />}
        <ul>
          {looks.map((i) => (
            <LookItem key={i.id} file={file} item={i} />
          ))}
        </ul>
        <p className="text-soft text-small">{info.reason}.</p>
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
                alt={`${info.label}, ${p.at.slice(0, 10)}`}
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
        {placed && <Part file={file} id={id} />}
      </section>
      <section className={first ? 'narrow:order-first' : ''}>
        {failed && <Mend file={file} station={id} shop={shop} />}
        {tests.map((t) => (
          <StationTest key={t.id} file={file} station={id} test={t} />
        ))}
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
