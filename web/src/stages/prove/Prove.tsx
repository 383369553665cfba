import { Link } from 'react-router'
import {
  diesNow,
  hasController,
  slotChannels,
  lastRound,
  pointsOfRound,
  proofBetween,
  proofsOf,
  placeOfChange,
  placeOfFind,
  proofFigure,
  provedLines,
  remediesOf,
  retestsOwed,
  roundToFill,
  stationInfo,
  testInfo,
  unseenBelow,
  visitLedger,
  worseSince,
  type Change,
  type ProofVerdict,
  type StationId,
  type VisitFile,
  isProved,
  isAccountOfAir,
  leavesNothing,
  type Diagnosis,
} from '@uvula/core'
import { useState } from 'react'
import { Choose } from '../../kit/Choose.js'
import { DRIVEN, Readings } from '../../parts/Readings.js'
import { stopSeen } from '../../parts/Stop.js'
import { SLOTS, type Slot } from '@uvula/core'
import { FeltAgain } from './FeltAgain.js'
import { RoadTest } from './RoadTest.js'

/** The same points again: before and after on one scale, change told from noise. */
export function Prove({
  file,
  diagnosis,
  onOpen,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  onOpen: (id: StationId, test?: string) => void
}) {
  const round = roundToFill(file)
  const done = remediesOf(file)
  const owed = proofsOf(file).at(-1)
  const worse = worseSince(file)
  const slots = slotsMeasured(file)
  const [slot, setSlot] = useState<Slot>('idle')
  const last = lastRound(file)
  const proof = last > 0 ? proofBetween(file, 0, last) : undefined
  const changes = proof?.changes ?? []
  const isTold = proof !== undefined && (changes.length > 0 || proof.verdict !== 'no change seen')
  const dies = diesNow(file)
  if (!done.length)
    return (
      <p className="bench px-gap pt-40 pb-14 max-w-640 text-lead narrow:px-14 narrow:pb-10">
        No work is entered in this visit yet. Once it is, the same points are measured again here and set against the
        first ones.
      </p>
    )
  return (
    <div className="bench px-gap py-14 gap-32 grid grid-cols-[minmax(0,0.95fr)_minmax(0,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        <h2 className="text-soft text-small">
          round {round}, after: {(owed?.remedies ?? []).map((r) => r.words).join('; ')}
          {owed && owed.remedies.length > 1 ? '. Done together, so their gain is joint.' : ''}
        </h2>
        <div className="flex flex-wrap items-center gap-x-20">
          <Choose
            label="point"
            look="line"
            className="flex flex-wrap items-center gap-x-20"
            value={slot}
            choices={slots.map((s) => ({ value: s, label: SLOTS[s].label }))}
            onChange={setSlot}
          />
          {hasController(file.vehicle.spec) && (
            <Link
              className="inline-flex min-h-tap items-center text-soft"
              to={`/visit/${encodeURIComponent(file.visit.id)}/live`}
            >
              live data
            </Link>
          )}
        </div>
        <Readings key={slot} file={file} slot={slot} round={round} channels={slotChannels(slot, file.vehicle.spec)} />
        {!dies && (!DRIVEN.includes(slot) || stopSeen(file, 'road-test')) && <RoadTest file={file} />}
      </section>
      <section className={isProved(file) && changes.length > 0 ? 'narrow:order-first' : undefined}>
        {proof && isTold && (
          <>
            <Verdict proof={proof} file={file} diagnosis={diagnosis} />
            <ul className="mb-8 text-small">
              {provedLines(file, proof, 0, last).map((s) => (
                <li key={s}>{s}</li>
              ))}
              {worse && proof.verdict !== 'worse' && <li className="wrong">{worse}</li>}
            </ul>
          </>
        )}
        <FeltAgain file={file} round={round} />
        {changes.length > 0 && <Marks />}
        <ol>
          {changes.map((c) => (
            <ChangeRow key={`${c.kind}${c.rpm}${c.label}`} change={c} />
          ))}
        </ol>
        {!isTold && (
          <p className="max-w-340 border-l-6 border-l-line py-8 pl-12">
            {dies
              ? `It ${dies}: nothing that was read before can be set beside it.`
              : 'Measure the idle again, warm, with the same loads: each figure then stands beside its first one.'}
          </p>
        )}
        <TryAgain file={file} onOpen={onOpen} />
      </section>
    </div>
  )
}

/** What the two marks on every scale are. */
const Marks = () => (
  <p className="ml-auto flex gap-14 text-small text-soft">
    <span className="inline-flex items-center gap-8">
      <span className="relative inline-block h-34 w-20">
        <span className="scale-before" style={{ left: '50%' }} />
      </span>
      before
    </span>
    <span className="inline-flex items-center gap-8">
      <span className="relative inline-block h-34 w-20">
        <span className="scale-pointer" style={{ left: '50%' }} />
      </span>
      now
    </span>
  </p>
)

/** Tests that found something, to be made again on what was done. */
function TryAgain({ file, onOpen }: { file: VisitFile; onOpen: (id: StationId, test?: string) => void }) {
  const owed = retestsOwed(file)
  if (!owed.length) return null
  return (
    <section className="mt-14">
      <h2 className="text-soft text-small">found by a test: make it again on what was done</h2>
      <ul>
        {owed.map((x) => (
          <li key={x.id} className="mt-8">
            <button
              type="button"
              className="act w-full justify-between"
              onClick={() => onOpen(placeOfFind(x) ?? x.station, x.test)}
            >
              <span>
                {testInfo(x.test).label}
                {x.station !== 'beyond' && `, ${stationInfo(x.station).label}`}
              </span>
              <span className="fig text-figure">{testInfo(x.test).minutes} min</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Verdict({
  proof,
  file,
  diagnosis,
}: {
  proof: ProofVerdict
  file: VisitFile
  /** Of the last round. */
  diagnosis?: Diagnosis
}) {
  const account = visitLedger(file)
  // where none came in at first, nothing is told of it
  const told =
    account &&
    account.now.round > 0 &&
    isAccountOfAir(file, diagnosis) &&
    (account.before.gramsPerS.low > 0 || !account.accounted)
  const sound = diagnosis && isProved(file) && leavesNothing(diagnosis)
  const words = {
    worse: 'Worse than before',
    better: 'It helped',
    changed: sound ? 'As a sound engine now' : 'Changed',
    'no change seen': 'No change seen',
    'at its stop': 'Trims stay at their stop',
  }[proof.verdict]
  return (
    <p className="verdict mb-8">
      <span className="name">{words}</span>{' '}
      {told && (
        <span>
          Unmetered air {account.before.atLeast ? 'at least ' : ''}
          {account.before.gramsPerS.median.toFixed(2)} g/s before, {account.now.atLeast ? 'at least ' : ''}
          {account.now.gramsPerS.median.toFixed(2)} now;{' '}
          {account.accounted
            ? 'nothing left beyond what a sound engine shows.'
            : 'more is left than a sound engine shows.'}
        </span>
      )}
    </p>
  )
}

/** Least span of a change's scale, in least changes worth having. */
const SPAN = 6

function ChangeRow({ change: c }: { change: Change }) {
  const reach = Math.max(Math.abs(c.difference) * 1.25, c.uncertainty * SPAN * 0.5)
  const mid = (c.before + c.after) / 2
  const at = (x: number): string => `${(50 + (50 * (x - mid)) / reach).toFixed(2)}%`
  const show = (x: number): string => proofFigure(x, c.unit)
  return (
    <li
      className="change border-b border-b-line gap-8 grid grid-cols-[104px_66px_minmax(70px,1fr)_108px_104px] items-center min-h-50 leading-tight narrow:grid-cols-[1fr_auto_auto] narrow:pt-6 narrow:pr-8 narrow:pb-10"
      data-verdict={c.verdict}
    >
      <span className="text-small">
        {c.label} <span className="text-soft">{placeOfChange(c)}</span>
      </span>
      <span className="fig text-figure text-right">{show(c.before)}</span>
      <span
        className="border-b-2 border-b-ink relative h-40 narrow:col-span-full narrow:[grid-row:2]"
        role="img"
        aria-label={`${c.label} ${show(c.before)} before, ${show(c.after)} after, ${c.unit}`}
      >
        <span
          className="top-8 absolute h-22 bg-air"
          style={{
            left: at(c.before - c.uncertainty),
            width: `calc(${at(c.before + c.uncertainty)} - ${at(c.before - c.uncertainty)})`,
          }}
        />
        <span className="scale-before" style={{ left: at(c.before) }} />
        <span className="scale-pointer" style={{ left: at(c.after) }} />
      </span>
      <span className="fig text-figure text-left">
        <span className="hidden narrow:inline text-soft">→ </span>
        {show(c.after)} <small className="text-label text-soft">{c.unit}</small>
      </span>
      <span className="narrow:col-span-full text-small">
        <RowVerdict change={c} show={show} />
      </span>
    </li>
  )
}

/** What is said of one change; of a trim at its stop when it stood there, since what it reads there is a bound. */
function RowVerdict({ change: c, show }: { change: Change; show: (x: number) => string }) {
  if (c.verdict === 'at its stop')
    return (
      <span className="text-soft">
        at its stop{' '}
        <span className="block narrow:inline">
          {c.atStop === 'both' ? 'before and now' : c.atStop === 'after' ? 'now' : 'before'}
        </span>
      </span>
    )
  const unseen = unseenBelow(c)
  if (c.verdict === 'no change seen')
    return (
      <span className="text-soft">
        no change seen
        {unseen !== undefined && <span className="block narrow:inline"> (from {show(unseen)})</span>}
      </span>
    )
  return (
    <>
      <b>{c.verdict}</b>
      {c.atStop && <span className="block narrow:inline"> at least</span>}
    </>
  )
}

/** Speed within which a held point is one of the pad's [share]. */
const SAME_SPEED = 0.08

/** Points of the baseline, typed or recorded, as the pad names them. */
function slotsMeasured(file: VisitFile): readonly Slot[] {
  const points = pointsOfRound(file, 0)
  const found = (Object.keys(SLOTS) as Slot[]).filter((s) => {
    const { kind, rpm } = SLOTS[s]
    return points.some((p) => p.kind === kind && (rpm === undefined || Math.abs(p.rpm - rpm) <= SAME_SPEED * rpm))
  })
  // an engine that held no idle is to show one
  return found.includes('idle') ? found : ['idle', ...found]
}
