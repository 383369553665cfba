import { faultOf, testInfo, type After, type Diagnosis, type NextTest, type StationId } from '@uvula/core'
import { sayShare } from '../words/format.js'
import './tests.css'

/** Tests that are drawn with what they would change. */
const SHOWN = 3

const VERDICTS: Readonly<Record<Diagnosis['stop']['verdict'], string>> = {
  act: 'Sure enough to act',
  test: 'Worth a test first',
  measure: 'Measure first',
}

/** Whether to test further, which tests next, and what each answer would make of the ranking. */
export function Tests({ diagnosis: d, onOpen }: { diagnosis?: Diagnosis; onOpen: (id: StationId) => void }) {
  if (!d) return <div className="progress" role="progressbar" aria-label="working it out" />
  const planned = d.plan.map((id) => d.nextTests.find((t) => t.test === id)).filter((t) => t !== undefined)
  const shown = [...planned, ...d.nextTests.filter((t) => !planned.includes(t))].slice(0, SHOWN)
  return (
    <div className="fork-bench">
      <p>
        <b className="fork-verdict">{VERDICTS[d.stop.verdict]}.</b> {d.stop.because}
      </p>
      <ol aria-label="next tests">
        {shown.map((t, i) => (
          <Fork key={t.test} test={t} place={i + 1} onOpen={onOpen} />
        ))}
      </ol>
      {!shown.length && <p className="soft">No test of the catalogue would tell more than is known.</p>}
    </div>
  )
}

/** A test as a fork in the road: how likely each answer is, and where it leads. */
function Fork({ test: t, place, onOpen }: { test: NextTest; place: number; onOpen: (id: StationId) => void }) {
  const info = testInfo(t.test)
  return (
    <li className="fork" data-test={t.test}>
      <button type="button" onClick={() => onOpen(info.at ?? 'plenum')}>
        <span className="fig fork-place">{place}</span>
        <span className="fork-name">
          <b>{info.label}</b>
          <br />
          <span className="soft small">
            {t.minutes} min{info.needs ? `, ${info.needs}` : ''}
            {info.caution?.stop ? ', STOP first' : ''}
          </span>
        </span>
      </button>
      <svg className="fork-road" viewBox="0 0 60 100" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 50 C30 50 30 24 60 24" strokeWidth={2 + 14 * t.finds} />
        <path d="M0 50 C30 50 30 76 60 76" strokeWidth={2 + 14 * (1 - t.finds)} />
      </svg>
      <div className="fork-ends">
        <End word="finds it" chance={t.finds} after={t.ifFound} />
        <End word="nothing" chance={1 - t.finds} after={t.ifNot} />
      </div>
    </li>
  )
}

function End({ word, chance, after }: { word: string; chance: number; after: readonly After[] }) {
  return (
    <p className="fork-end">
      <span className="fork-chance">
        {word} <span className="fig">{sayShare(chance)} %</span>
      </span>
      <span className="fork-after">
        {after.slice(0, 2).map((a) => (
          <span key={a.fault}>
            <span className="fork-bar" style={{ width: `${(100 * a.probability).toFixed(0)}%` }} />
            <span className="fig">{sayShare(a.probability)}</span> {faultOf(a.fault).label}
          </span>
        ))}
      </span>
    </p>
  )
}
