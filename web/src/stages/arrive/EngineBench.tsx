import { useState } from 'react'
import { Link } from 'react-router'
import {
  addableBranches,
  airPathOf,
  airPathProblems,
  branchEditsOf,
  describeEngine,
  nipplesOf,
  stationInfo,
  vinDoubt,
  type StationId,
  type Vehicle,
  type VisitFile,
} from '@uvula/core'
import { Pick } from '../../kit/Pick.js'
import { EngineAnswers } from '../../parts/EngineAnswers.js'
import { EngineDrawing } from '../../parts/EngineDrawing.js'
import { ownFields, useWriter } from '../../store/visit.js'

/** Everything of this engine: drawn, answered, and what hangs on its pipe. */
export function EngineBench({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const { vehicle } = file
  const [problem, setProblem] = useState<string>()
  // an answer that leaves a branch hanging on nothing is refused here, as it would be by the server
  const keep = (spec: Vehicle): void => {
    const [wrong] = airPathProblems(spec)
    setProblem(wrong && `Not taken: ${wrong}. Hang it elsewhere first.`)
    if (!wrong) write('vehicles', vehicle.id, { ...ownFields(vehicle), spec })
  }
  return (
    <div className="bench px-gap py-14 grid gap-gap narrow:px-14 narrow:py-10">
      <header className="flex items-center gap-12">
        <h2 className="name flex-1">This engine: {describeEngine(vehicle.spec)}</h2>
        <Link className="act" to="?">
          back to arrival
        </Link>
      </header>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.5fr)] gap-gap narrow:grid-cols-1">
        <section>
          <EngineDrawing vehicle={vehicle.spec} />
          <Vin
            key={vehicle.vin ?? ''}
            vin={vehicle.vin ?? ''}
            onKeep={(vin) => write('vehicles', vehicle.id, { ...ownFields(vehicle), vin })}
          />
          <Branches spec={vehicle.spec} onKeep={keep} />
        </section>
        <EngineAnswers
          vehicle={vehicle.spec}
          onChange={keep}
          className="grid grid-cols-2 content-start gap-x-gap gap-y-8 text-label narrow:grid-cols-1"
        />
      </div>
    </div>
  )
}

/** The number on the frame: doubted where its check digit is off, kept as it is typed. */
function Vin({ vin, onKeep }: { vin: string; onKeep: (vin: string) => void }) {
  const [text, setText] = useState(vin)
  const doubt = vinDoubt(text)
  const keep = (): void => void (text.trim().toUpperCase() !== vin && onKeep(text.trim().toUpperCase()))
  return (
    <div className="mt-8">
      <label className="text-small text-soft" htmlFor="vin">
        number on the frame (VIN)
      </label>
      <input
        id="vin"
        className="field fig text-figure"
        autoComplete="off"
        spellCheck={false}
        maxLength={30}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => e.key === 'Enter' && keep()}
      />
      {doubt && <p className="border-l-6 border-l-line pl-10 text-small">{doubt}</p>}
    </div>
  )
}

/** Branches as they belong on this engine: hung elsewhere, added, taken away; a path that does not hold together is refused. */
function Branches({ spec, onKeep }: { spec: Vehicle; onKeep: (v: Vehicle) => void }) {
  const [problem, setProblem] = useState<string>()
  const path = airPathOf(spec)
  const edits = branchEditsOf(spec)
  const name = (id: StationId): string => stationInfo(id).label
  const change = (branches: Vehicle['branches']): void => {
    const next = { ...spec, branches }
    const [wrong] = airPathProblems(next)
    setProblem(wrong && `${wrong.charAt(0).toUpperCase()}${wrong.slice(1)}.`)
    if (!wrong) onKeep(next)
  }
  const hang = (id: StationId, joins: StationId): void =>
    change({ joins: { ...edits.joins, [id]: joins }, without: edits.without.filter((x) => x !== id) })
  const takeAway = (id: StationId): void =>
    change({
      joins: Object.fromEntries(Object.entries(edits.joins).filter(([x]) => x !== id)),
      without: [...edits.without.filter((x) => x !== id), id],
    })
  const addable = [...addableBranches(path), ...edits.without]
  return (
    <section className="mt-12" aria-label="branches">
      <h3 className="border-b-2 border-b-ink text-small text-soft">what hangs on its pipe, and where it belongs</h3>
      <ul>
        {path.stations
          .filter((s) => s.lane === 'branch')
          .map((s) => (
            <li
              key={s.info.id}
              className="grid min-h-tap grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] items-center gap-8 border-b border-b-line"
            >
              <span>{s.info.label}</span>
              <Pick
                label={`${s.info.label} joins`}
                value={s.joins!}
                options={nipplesOf(path, s.info.id).map((id) => ({ value: id, label: name(id) }))}
                onChange={(joins) => hang(s.info.id, joins)}
              />
              <button
                type="button"
                className="min-h-tap px-8 text-small text-soft"
                aria-label={`no ${s.info.label} on this engine`}
                onClick={() => takeAway(s.info.id)}
              >
                not here
              </button>
            </li>
          ))}
      </ul>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      {addable.length > 0 && (
        <div className="mt-8 flex flex-wrap gap-8">
          {addable.map((id) => (
            <button
              key={id}
              type="button"
              className="act"
              onClick={() => hang(id, spec.plenum === 'individual' ? 'gaskets' : 'plenum')}
            >
              + {name(id)}
            </button>
          ))}
        </div>
      )}
    </section>
  )
}
