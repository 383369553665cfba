import { lazy, Suspense, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import {
  CONDITIONS,
  hasController,
  diesIn,
  idleChannels,
  live,
  NO_CODES,
  SIGNS,
  slotChannels,
  SLOTS,
  type Vehicle,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Marks } from '../../kit/Marks.js'
import { Codes } from '../../parts/Codes.js'
import { EngineAnswers, FEW } from '../../parts/EngineAnswers.js'
import { EngineDrawing } from '../../parts/EngineDrawing.js'
import { CODES_PART, usePartInView } from '../../parts/partInView.js'
import { Readings } from '../../parts/Readings.js'
import { ownFields, useCard, useWriter } from '../../store/visit.js'
import { Waiting } from '../../parts/States.js'
import { sayDay } from '../../words/format.js'
import { INTENTS } from './words.js'

const EngineBench = lazy(() => import('./EngineBench.js').then((m) => ({ default: m.EngineBench })))

/** Complaint, vehicle, baseline: what is known before anything is touched. */
export function Arrive({ file }: { file: VisitFile }) {
  const [params] = useSearchParams()
  return params.get('view') === 'engine' ? (
    <Suspense fallback={<Waiting what="the engine" />}>
      <EngineBench file={file} />
    </Suspense>
  ) : (
    <ArriveBench file={file} />
  )
}

function ArriveBench({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  usePartInView()
  const { visit, vehicle } = file
  const change = (part: object): void => write('visits', visit.id, { ...ownFields(visit), ...part })
  const toggle = (list: readonly string[], id: string): string[] =>
    list.includes(id) ? list.filter((x) => x !== id) : [...list, id]
  const turn = (spec: Vehicle): void => write('vehicles', vehicle.id, { ...ownFields(vehicle), spec })
  // a car that came with a code says so itself
  const withCodes = live(file.codes).some((c) => c.when === 'before')
  const isRead = hasController(vehicle.spec)
  return (
    <div className="bench px-gap py-14 gap-gap grid grid-cols-[306px_284px_minmax(0,1fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section className="narrow:order-2" aria-labelledby="signs-title">
        <Complaint key={visit.id} said={visit.complaint} onSay={(complaint) => change({ complaint })} />
        <h2 id="signs-title" className="text-soft text-small">
          what the customer feels
        </h2>
        <Marks
          label="what the customer feels"
          values={visit.signs}
          choices={SIGNS.map((s) => ({ value: s.id, label: s.label }))}
          onToggle={(id) => change({ signs: toggle(visit.signs, id) })}
        />
        <h2 className="text-soft text-small">when</h2>
        <Marks
          label="when"
          values={visit.conditions}
          choices={CONDITIONS.map((c) => ({ value: c.id, label: c.label }))}
          onToggle={(id) => change({ conditions: toggle(visit.conditions, id) })}
        />
        <Choose
          label="how it came"
          look="box"
          className="mt-8 flex"
          value={visit.intent}
          choices={INTENTS}
          onChange={(intent) => change({ intent })}
        />
      </section>
      <section className="narrow:order-3">
        <h2 className="text-soft text-small">this engine; tap what differs</h2>
        <EngineDrawing vehicle={vehicle.spec} />
        <EngineAnswers vehicle={vehicle.spec} onChange={turn} only={FEW} />
        <Link className="act mt-8 flex justify-center" to="?view=engine">
          all of this engine
        </Link>
        {isRead && (
          <>
            <div className="flex min-h-tap items-center justify-between gap-8">
              <h2 id={CODES_PART} className="text-small text-soft">
                codes that it came with
              </h2>
              {!withCodes && (
                <Marks
                  label="codes that it came with"
                  className="grid"
                  values={visit.conditions}
                  choices={[{ value: NO_CODES, label: 'read: none' }]}
                  onToggle={(id) => change({ conditions: toggle(visit.conditions, id) })}
                />
              )}
            </div>
            <Codes file={file} at="before" />
          </>
        )}
        <LeftBefore file={file} />
      </section>
      <section className="narrow:order-1">
        <h2 className="text-soft text-small">warm idle, nothing touched yet</h2>
        <Readings file={file} slot="idle" round={0} channels={idleChannels(vehicle.spec)} />
        {diesIn(file, 0) === 'no-idle' && (
          <>
            <h2 className="mt-14 text-soft text-small">{SLOTS['hold-2500'].label}, nothing touched yet</h2>
            <Readings file={file} slot="hold-2500" round={0} channels={slotChannels('hold-2500', vehicle.spec)} />
          </>
        )}
      </section>
    </div>
  )
}

/** The complaint in the customer's words; kept when it is left. */
function Complaint({ said, onSay }: { said: string; onSay: (text: string) => void }) {
  const [text, setText] = useState(said)
  return (
    <label className="mb-8 block">
      <span className="text-small text-soft">in the customer’s words</span>
      <textarea
        className="field min-h-64 resize-none py-6"
        rows={2}
        maxLength={500}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text.trim() !== said && onSay(text.trim())}
      />
    </label>
  )
}

/** What the last visit of this car left open. */
function LeftBefore({ file }: { file: VisitFile }) {
  const { card } = useCard(file.vehicle.id)
  const left = card?.left
  if (!left || left.visitId === file.visit.id || !left.lines.length) return null
  return (
    <section className="mt-12 border-l-6 border-l-ink pl-10">
      <h2 className="text-small text-soft">
        left on {sayDay(left.openedAt)}; <Link to={`/car/${encodeURIComponent(file.vehicle.id)}`}>its card</Link>
      </h2>
      {left.lines.map((l) => (
        <p key={l}>{l}</p>
      ))}
    </section>
  )
}
