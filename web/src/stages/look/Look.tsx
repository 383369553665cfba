import { memo, useMemo, useState } from 'react'
import {
  airPathOf,
  live,
  lookItemsOf,
  lookOrder,
  type Diagnosis,
  findingId,
  type FindingRecord,
  maybeStation,
  type LookItem as Asked,
  type Outcome,
  type StationId,
  type VisitFile,
  workOn,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { StuckHere } from '../../parts/Undelivered.js'
import { Rings, RingWords } from '../../kit/Rings.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { TakePhoto } from '../station/TakePhoto.js'
import { Battery } from './Battery.js'
import { LookNote } from './LookNote.js'
import { ORDERS } from './words.js'

/** Columns that the walk is laid out in where there is room. */
const COLUMNS = 3

/** Stations in order, so many to a column that each holds about as many looks. */
function inColumns(items: readonly Asked[]): StationId[][] {
  const out: StationId[][] = Array.from({ length: COLUMNS }, () => [])
  const stations = [...new Set(items.map((i) => i.station))]
  let before = 0
  for (const id of stations) {
    out[Math.min(COLUMNS - 1, Math.floor((COLUMNS * before) / items.length))].push(id)
    before += items.filter((i) => i.station === id).length
  }
  return out
}

const looksJudged = (file: VisitFile): number =>
  new Set(live(file.findings).flatMap((x) => (x.test === 'look' ? [x.item] : []))).size

/** The free checks, one tap each: those that find most in a minute first, or as one walks along the pipe. */
export function Look({
  file,
  diagnosis,
  onOpen,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  onOpen: (id: StationId) => void
}) {
  // a hard start is the battery's until it is shown not to be
  const hardStart = file.visit.signs.includes('hard-start')
  const [order, setOrder] = useState<'likeliest' | 'pipe'>('likeliest')
  // the order stands while the list is worked on, come the diagnosis when it may: nothing moves under a finger, nor from
  // under the keys
  const [fixed, setFixed] = useState({ file, diagnosis })
  const [isWorkedOn, setWorkedOn] = useState(false)
  if (!fixed.diagnosis && diagnosis && !isWorkedOn && looksJudged(file) === looksJudged(fixed.file))
    setFixed({ file, diagnosis })
  const path = useMemo(() => airPathOf(file.vehicle.spec), [file.vehicle.spec])
  const items = useMemo(
    () =>
      order === 'pipe'
        ? lookItemsOf(file.vehicle.spec)
        : lookOrder({ ...fixed.file, vehicle: file.vehicle }, fixed.diagnosis).map((r) => r.item),
    [order, file.vehicle, fixed],
  )
  return (
    <div className="px-gap py-6 narrow:px-14">
      <Choose
        label="order of the look"
        look="line"
        className="flex gap-20"
        value={order}
        choices={ORDERS}
        onChange={(o) => {
          setOrder(o)
          setWorkedOn(false)
        }}
      />
      {hardStart && <Battery file={file} />}
      <div className="grid grid-cols-3 gap-28 narrow:grid-cols-1 narrow:gap-0" onFocus={() => setWorkedOn(true)}>
        {inColumns(items).map((stations, k) => (
          <div key={k}>
            <div className={k ? 'narrow:hidden' : ''}>
              <RingWords />
            </div>
            <ol>
              {stations.map((id) => (
                <li key={id} className="border-l-12 border-l-air pl-10">
                  <ul>
                    {items
                      .filter((i) => i.station === id)
                      .map((i, n) => (
                        <LookItem
                          key={i.id}
                          file={file}
                          item={i}
                          name={n === 0 ? maybeStation(path, id)!.info.label : undefined}
                          onOpen={onOpen}
                        />
                      ))}
                  </ul>
                </li>
              ))}
            </ol>
          </div>
        ))}
      </div>
      {!hardStart && <Battery file={file} />}
    </div>
  )
}

interface LookItemProps {
  readonly file: VisitFile
  readonly item: Asked
  readonly name?: string
  readonly onOpen?: (id: StationId) => void
}

const lookOf = (item: Asked) => ({ test: 'look', station: item.station, item: item.id })
const lookId = (p: LookItemProps, work = 0): string => findingId(p.file, lookOf(p.item), work)
/** How a look stands: as it was judged last, after the work where that was. */
const findingOf = (p: LookItemProps): FindingRecord | undefined => {
  const mine = live(p.file.findings).filter((x) => x.test === 'look' && x.item === p.item.id)
  return mine.reduce<FindingRecord | undefined>(
    (a, x) => (a && (a.afterWork ?? 0) > (x.afterWork ?? 0) ? a : x),
    undefined,
  )
}
/** Lists that work is entered in: once its place was worked on a look is made anew. */
const WORK = ['repairs', 'steps', 'runs'] as const
/** Of a visit a look shows its own finding: one that stands as it stood is not drawn anew by what another look said. */
const standsAsItDid = (a: LookItemProps, b: LookItemProps): boolean =>
  a.item === b.item &&
  a.name === b.name &&
  a.onOpen === b.onOpen &&
  lookId(a) === lookId(b) &&
  findingOf(a) === findingOf(b) &&
  WORK.every((noun) => a.file[noun] === b.file[noun])

export const LookItem = memo(function LookItem(props: LookItemProps) {
  const { file, item, name, onOpen } = props
  const { write, remove } = useWriter(file)
  const found = findingOf(props)
  const id = found?.id ?? lookId(props)
  const judge = (outcome: Outcome | undefined): void => {
    const afterWork = workOn(file, lookOf(item))
    const isAnew = found !== undefined && (found.afterWork ?? 0) < afterWork
    if (!outcome && !isAnew) return remove('findings', id)
    // what was seen before the work stays as it was seen
    write('findings', isAnew ? lookId(props, afterWork) : id, {
      visitId: file.visit.id,
      ...lookOf(item),
      outcome: outcome ?? found!.outcome,
      afterWork: isAnew ? afterWork : (found?.afterWork ?? afterWork),
      ...(found?.note && !isAnew ? { note: found.note } : {}),
    })
  }
  return (
    <li
      className="border-t border-t-line first:border-t-2 first:border-t-ink grid min-h-56 grid-cols-[1fr_auto] items-center gap-x-4 py-3"
      data-item={item.id}
    >
      {name && onOpen ? (
        <button type="button" className="text-label leading-tight" onClick={() => onOpen(item.station)}>
          <b className="block font-semibold">{name}</b>
          {item.question}
        </button>
      ) : (
        <span className="text-label leading-tight">{item.question}</span>
      )}
      <Rings question={item.question} value={found?.outcome} onJudge={judge} />
      <div className="col-span-full">
        <StuckHere noun="findings" id={id} />
      </div>
      {found && found.outcome !== 'pass' && (
        <div className="col-span-full flex items-center gap-8">
          <div className="flex-1">
            <LookNote file={file} finding={found} />
          </div>
          <TakePhoto
            onTake={(mime, content) =>
              write('photos', `${file.visit.id}:photo:${newId()}`, {
                visitId: file.visit.id,
                station: item.station,
                mime,
                content,
              })
            }
          />
        </div>
      )}
    </li>
  )
}, standsAsItDid)
