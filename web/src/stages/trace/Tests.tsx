import {
  benchOf,
  faultOf,
  testInfo,
  type ActPlace,
  type After,
  type Diagnosis,
  type NextTest,
  type Vehicle,
} from '@uvula/core'
import { Working } from '../../kit/Working.js'
import { sayShare } from '../../words/format.js'
import { VERDICTS } from './words.js'

/** Tests that are drawn with what they would change. */
const SHOWN = 3

/** Whether to test further, which tests next, and what each answer would make of the ranking. */
export function Tests({
  vehicle,
  diagnosis: d,
  onOpen,
}: {
  vehicle: Vehicle
  diagnosis?: Diagnosis
  onOpen: (where: ActPlace) => void
}) {
  if (!d) return <Working label="working it out" />
  const planned = d.plan.map((id) => d.nextTests.find((t) => t.test === id)).filter((t) => t !== undefined)
  const shown = [...planned, ...d.nextTests.filter((t) => !planned.includes(t))].slice(0, SHOWN)
  return (
    <div className="fork-bench pt-8 relative z-0">
      <p>
        <b className="fork-verdict text-name leading-tight">{VERDICTS[d.stop.verdict]}.</b> {d.stop.because}
      </p>
      <ol aria-label="next tests">
        {shown.map((t, i) => (
          <Fork key={t.test} vehicle={vehicle} test={t} place={i + 1} onOpen={onOpen} />
        ))}
      </ol>
      {!shown.length && <p className="text-soft">No test of the catalogue would tell more than is known.</p>}
      <button type="button" className="act mt-14" onClick={() => onOpen({ station: 'beyond' })}>
        fuel, ignition, exhaust, compression: tests beyond the air path
      </button>
    </div>
  )
}

/** A test as a fork in the road: how likely each answer is, and where it leads. */
function Fork({
  vehicle,
  test: t,
  place,
  onOpen,
}: {
  vehicle: Vehicle
  test: NextTest
  place: number
  onOpen: (where: ActPlace) => void
}) {
  const info = testInfo(t.test)
  return (
    <li
      className="fork border-b border-b-line grid grid-cols-[270px_56px_minmax(0,1fr)] items-stretch min-h-118 phone:pb-8 phone:grid-cols-1"
      data-test={t.test}
    >
      <button
        className="grid grid-cols-[40px_minmax(0,1fr)] items-center text-left min-h-48"
        type="button"
        onClick={() => onOpen(benchOf(vehicle, t.test))}
      >
        <span className="fig text-reading leading-none">{place}</span>
        <span className="leading-snug">
          <b>{info.label}</b>
          <br />
          <span className="text-soft text-small">
            {t.minutes} min{info.needs ? `, ${info.needs}` : ''}
            {info.caution?.stop ? ', STOP first' : ''}
          </span>
        </span>
      </button>
      <svg className="fork-road" viewBox="0 0 60 100" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 50 C30 50 30 24 60 24" strokeWidth={2 + 14 * t.finds} />
        <path d="M0 50 C30 50 30 76 60 76" strokeWidth={2 + 14 * (1 - t.finds)} />
      </svg>
      <div className="grid grid-rows-2 items-center">
        <End word="finds it" chance={t.finds} after={t.ifFound} />
        <End word="nothing" chance={1 - t.finds} after={t.ifNot} />
      </div>
    </li>
  )
}

function End({ word, chance, after }: { word: string; chance: number; after: readonly After[] }) {
  return (
    <p className="pl-8 gap-10 grid grid-cols-[118px_minmax(0,1fr)] items-center leading-snug phone:grid-cols-[112px_minmax(0,1fr)]">
      <span className="whitespace-nowrap">
        {word} <span className="fig text-name">{sayShare(chance)} %</span>
      </span>
      <span className="gap-1 grid">
        {after.slice(0, 2).map((a) => (
          <span
            className="px-6 py-1 overflow-hidden relative text-ellipsis whitespace-nowrap phone:whitespace-normal"
            key={a.fault}
          >
            <span
              className="top-1 bottom-1 left-0 absolute -z-1 bg-air"
              style={{ width: `${(100 * a.probability).toFixed(0)}%` }}
            />
            <span className="fig inline-block min-w-30">{sayShare(a.probability)}</span> {faultOf(a.fault).label}
          </span>
        ))}
      </span>
    </p>
  )
}
