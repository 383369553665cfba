import { Toggle } from 'radix-ui'
import { useState } from 'react'
import {
  atStation,
  checkRepair,
  expectedCost,
  lastRound,
  live,
  nextPartsDay,
  openFinds,
  remediesOf,
  repairOptionsFor,
  repairWords,
  stationInfo,
  testInfo,
  WRAP_CONDITIONS,
  type FindingRecord,
  type RepairOption,
  type RepairRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Choose } from '../../kit/Choose.js'
import { Field } from '../../kit/Field.js'
import { Tick } from '../../kit/Tick.js'
import { newId } from '../../store/database.js'
import { ownFields, useWriter } from '../../store/visit.js'
import { sayDay } from '../../words/format.js'

/** Days until a temporary repair is looked at again, unless another day is set. */
const RECHECK_DAYS = 14

const inDays = (n: number): string => new Date(Date.now() + n * 86_400_000).toISOString().slice(0, 10)

/** A cell of the ways; on a phone a way's words stand over its figures. */
const CELL = 'border-t border-t-line phone:border-t-0'
const FIGURE = 'fig pl-12 text-name whitespace-nowrap phone:pl-0'

/** Ways to answer a find at one place, by price, risk and condition; and what was done there. */
export function Mend({ file, station, shop }: { file: VisitFile; station: StationId; shop: Shop }) {
  const { write, remove } = useWriter(file)
  const [chosen, setChosen] = useState<RepairOption>()
  const [more, setMore] = useState(false)
  const here = live(file.repairs).filter((r) => r.station === station)
  const cleaned = remediesOf(file).filter((r) => r.kind === 'cleaning' && r.station === station)
  const bus = nextPartsDay(shop.partsDays, inDays(0))
  const isTold = here.length + cleaned.length > 0
  // what a test found again after the work asks for more of it
  const asks = openFinds(file, true).filter(({ place }) => place === station)
  const isOpen = more || asks.some(({ find }) => find.afterWork)
  const told = isTold && (
    <div className="grid gap-8 py-8">
      {here.map((repair) => (
        <Told
          key={repair.id}
          repair={repair}
          found={file.findings.find((x) => x.id === repair.finding)}
          onDone={() =>
            write('repairs', repair.id, { ...ownFields(repair), state: 'done', afterRound: lastRound(file) })
          }
          onBack={() => remove('repairs', repair.id)}
        />
      ))}
      {cleaned.map((r) => (
        <p key={r.ids.join()}>
          <b>{stationInfo(station).label}</b>: {r.words}, done.
        </p>
      ))}
      {!isOpen && (
        <button type="button" className="act justify-self-start" onClick={() => setMore(true)}>
          something else here
        </button>
      )}
    </div>
  )
  if (told && !isOpen)
    return (
      <div className="mt-10 border-t-2 border-t-ink" data-station={station}>
        {told}
      </div>
    )
  const save = (
    o: RepairOption,
    state: 'planned' | 'done',
    { conditions, recheckOn, note, finding, partsPrice = o.partsPrice }: How,
  ): void =>
    write('repairs', `${file.visit.id}:repair:${station}:${newId()}`, {
      visitId: file.visit.id,
      station,
      kind: o.kind,
      state,
      afterRound: lastRound(file),
      temporary: o.temporary,
      ...(recheckOn ? { recheckOn } : {}),
      minutes: o.minutes,
      partsPrice,
      conditions,
      ...(note ? { note } : {}),
      ...(finding ? { finding } : {}),
    })
  const keep: typeof save = (...of) => {
    save(...of)
    setChosen(undefined)
    setMore(false)
  }
  const options = repairOptionsFor(
    file.vehicle.spec,
    station,
    asks.map((x) => x.find),
  )
  return (
    <div className="mend pt-6 mt-10 border-t-2 border-t-ink" data-station={station}>
      {told}
      <h2 className="name">
        What is done {told ? 'next ' : ''}
        {atStation(station)}
      </h2>
      <table className="w-full border-collapse">
        <thead className="text-left align-bottom text-small text-soft [&_th]:font-medium">
          <tr className="phone:grid phone:grid-cols-4">
            <th scope="col" className="phone:hidden">
              way
            </th>
            <th scope="col">now</th>
            <th scope="col">with its risk</th>
            <th scope="col">back in 3 months</th>
            <th scope="col">part</th>
          </tr>
        </thead>
        <tbody>
          {options.map((o) => {
            const cost = expectedCost(o, shop.labourPerHour)
            return (
              <tr
                key={o.kind}
                aria-selected={chosen?.kind === o.kind}
                className="phone:grid phone:grid-cols-4 phone:border-t phone:border-t-line phone:pb-6"
              >
                <th scope="row" className={`${CELL} text-left font-medium phone:col-span-full`}>
                  <Toggle.Root
                    className="relative w-full pl-22 leading-snug before:absolute before:top-18 before:left-0 before:h-12 before:w-12 before:border-2 before:border-ink data-[state=on]:before:bg-ink"
                    pressed={chosen?.kind === o.kind}
                    onPressedChange={() => setChosen(o)}
                  >
                    {o.label}
                    <span className="text-soft text-small"> {o.condition}</span>
                  </Toggle.Root>
                </th>
                <td className={`${CELL} ${FIGURE}`}>{cost.now.toFixed(0)}</td>
                <td className={`${CELL} ${FIGURE}`}>{cost.withRisk.toFixed(0)}</td>
                <td className={`${CELL} ${FIGURE}`}>
                  {o.kind === 'leave' ? 'stays' : `${(100 * o.comesBack).toFixed(0)} %`}
                </td>
                <td className={`${CELL} pl-12 text-small whitespace-nowrap phone:pl-0 phone:whitespace-normal`}>
                  {o.wait === 'bus' && bus ? `${sayDay(bus)}’s bus` : 'here'}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      {chosen && <Decide key={chosen.kind} file={file} station={station} shop={shop} option={chosen} onSave={keep} />}
    </div>
  )
}

/** One answer that is planned or done, and what takes it further or back. */
function Told({
  repair,
  found,
  onDone,
  onBack,
}: {
  repair: RepairRecord
  /** What it answers, where its place does not say. */
  found?: FindingRecord
  onDone: () => void
  onBack: () => void
}) {
  return (
    <div className="flex flex-wrap items-center gap-12">
      <p className="flex-[1_1_260px]">
        {repair.station === 'beyond' ? (
          <>
            <b>{repairWords(repair)}</b>
            {found && `, for: ${testInfo(found.test).label.toLowerCase()}`}
          </>
        ) : (
          <>
            <b>{stationInfo(repair.station).label}</b>:{' '}
            {repairWords(repair).slice(stationInfo(repair.station).label.length + 1)}
          </>
        )}
        , {repair.state}
        {repair.temporary
          ? `, temporary, look again by ${repair.recheckOn ? sayDay(repair.recheckOn) : 'no day set'}`
          : ''}
        .{repair.againstRule ? ` Recorded against the rule “${repair.againstRule}”.` : ''}
      </p>
      {repair.state === 'planned' && (
        <button type="button" className="act strong" onClick={onDone}>
          done
        </button>
      )}
      <button type="button" className="act" onClick={onBack}>
        take it back
      </button>
    </div>
  )
}

/** One find a test that nothing done has answered. */
const findsBeyond = (file: VisitFile): FindingRecord[] => [
  ...new Map(
    openFinds(file, true).flatMap(({ find, place }) => (place === 'beyond' ? [[find.test, find]] : [])),
  ).values(),
]

/** What is asked in words of work beyond the air path, with how it may be said. */
const noteLabel = (kind: RepairOption['kind']): string =>
  kind === 'leave'
    ? 'what is left, as the customer reads it'
    : `what is done, as the customer reads it: “${kind === 'replace' ? 'the fuel filter renewed' : 'the sensor’s plug seated'}”`

/** How one of the ways was taken. */
type How = Pick<RepairRecord, 'conditions' | 'recheckOn' | 'note' | 'finding'> & { readonly partsPrice?: number }

/** Conditions ticked and the day of the next look, then planned or done. */
function Decide({
  file,
  station,
  shop,
  option,
  onSave,
}: {
  file: VisitFile
  station: StationId
  shop: Shop
  option: RepairOption
  onSave: (o: RepairOption, state: 'planned' | 'done', how: How) => void
}) {
  const [ticked, setTicked] = useState<readonly string[]>([])
  const [day, setDay] = useState(option.temporary ? inDays(RECHECK_DAYS) : undefined)
  const [note, setNote] = useState('')
  const [price, setPrice] = useState('')
  const finds = station === 'beyond' ? findsBeyond(file) : []
  const [finding, setFinding] = useState(finds.length === 1 ? finds[0].id : undefined)
  // beyond the air path its place does not say what it was
  const priced = station === 'beyond' && option.kind === 'replace'
  const unsaid =
    (station === 'beyond' && option.kind !== 'leave' && !note.trim()) ||
    (priced && !price.trim()) ||
    (finds.length > 1 && !finding)
  const partsPrice = Number(price.trim().replace(',', '.'))
  const wrongPrice = priced && !(partsPrice >= 0) ? 'must be a number from 0' : undefined
  const how = { conditions: ticked, recheckOn: day, note: note.trim(), finding, ...(priced ? { partsPrice } : {}) }
  const refusals = checkRepair(file, {
    id: '',
    version: 0,
    by: '',
    at: '',
    visitId: file.visit.id,
    station,
    kind: option.kind,
    state: 'done',
    afterRound: 0,
    temporary: option.temporary,
    recheckOn: day,
    minutes: option.minutes,
    partsPrice: option.partsPrice,
    conditions: ticked,
  })
  return (
    <div className="decide px-0 py-10 gap-8 flex flex-wrap items-end">
      {option.kind === 'wrap' &&
        WRAP_CONDITIONS.map((c) => (
          <Tick
            key={c.id}
            checked={ticked.includes(c.id)}
            onChange={(on) => setTicked(on ? [...ticked, c.id] : ticked.filter((x) => x !== c.id))}
          >
            {c.label}
          </Tick>
        ))}
      {option.temporary && (
        <label className="text-small">
          look again by{' '}
          <input
            type="date"
            className="field w-170"
            value={day}
            onChange={(e) => setDay(e.target.value || undefined)}
          />
        </label>
      )}
      {finds.length > 1 && (
        <div className="basis-full">
          <p className="mb-4 text-small text-soft">which find it answers</p>
          <Choose
            label="which find it answers"
            look="box"
            className="flex flex-wrap gap-8"
            value={finding}
            choices={finds.map((x) => ({ value: x.id, label: testInfo(x.test).label }))}
            onChange={setFinding}
          />
        </div>
      )}
      {station === 'beyond' && (
        <div className="grid basis-full grid-cols-[minmax(0,1fr)_150px] items-start gap-12">
          <Field look="above" label={noteLabel(option.kind)} value={note} onChange={(e) => setNote(e.target.value)} />
          {priced && (
            <Field
              look="above"
              label={`its price, ${shop.currency}`}
              inputMode="decimal"
              value={price}
              error={wrongPrice}
              onChange={(e) => setPrice(e.target.value)}
            />
          )}
        </div>
      )}
      <button
        type="button"
        className="act strong"
        disabled={refusals.length > 0 || unsaid || wrongPrice !== undefined}
        onClick={() => onSave(option, 'done', how)}
      >
        done
      </button>
      <button
        type="button"
        className="act"
        disabled={unsaid || wrongPrice !== undefined}
        onClick={() => onSave(option, 'planned', how)}
      >
        plan it
      </button>
      {refusals.map((r) => (
        <p key={r.rule} className="wrong basis-full text-small">
          {r.message}
        </p>
      ))}
    </div>
  )
}
