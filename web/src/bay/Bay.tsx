import { memo, useDeferredValue, useEffect, useState } from 'react'
import { Link } from 'react-router'
import { complaintOf, describeEngine, nowAct, stageStatuses, STAGES, type VisitFile } from '@uvula/core'
import type { FindResult } from '@uvula/contract'
import { Delivery } from '../parts/Delivery.js'
import { LittleLine } from '../parts/LittleLine.js'
import { nowLink } from '../parts/nowLink.js'
import { getJson, postJson } from '../store/api.js'
import { useBay } from '../store/visit.js'
import { useDiagnosis } from '../workers/heart.js'
import { sayDay, sayTime } from '../words/format.js'
import { Failing, Waiting } from '../parts/States.js'
import { WhoWorks } from '../parts/WhoWorks.js'

/** Rows that the first paint has, half a screen; the others follow at once. */
const FIRST_ROWS = 3
/** Weighing begins so long after a row stands [ms]: its worker does not compete with the first paint. */
const WEIGH_AFTER_MS = 1500

/** Today's cars, one row each: its small air line and its next act. */
export function Bay() {
  const { bay, error } = useBay()
  const shown = useDeferredValue(Infinity, FIRST_ROWS)
  if (error && !bay) return <Failing error={error} />
  if (!bay) return <Waiting what="the bay" />
  const [front, ...rest] = bay.rows.slice(0, shown)
  return (
    <div className="min-h-full flex flex-col max-w-1920">
      <header className="px-gap py-10 border-b-2 border-b-ink gap-16 flex items-center narrow:px-16 narrow:py-8 narrow:flex-wrap">
        <h1 className="mr-auto text-name whitespace-nowrap">
          <b>{bay.shop.name}</b>{' '}
          {bay.shop.demo && (
            <span className="badge px-8 py-2 ml-8 border-2 border-ink border-dashed text-small">demo, all made up</span>
          )}
        </h1>
        <Find />
        <Delivery />
        <WhoWorks />
        <Link to="/settings" className="act">
          settings
        </Link>
        <Link to="/new" className="act strong">
          new car
        </Link>
      </header>
      <main>
        {front ? (
          <ol>
            <Row file={front} first />
            {rest.map((f) => (
              <Row key={f.visit.id} file={f} />
            ))}
          </ol>
        ) : (
          <div className="px-gap py-[10vh] gap-16 max-w-640 grid justify-items-start">
            <p className="name">No car in the bay</p>
            <p>Take one in: pick the nearest engine, tap what differs, and its air line is drawn.</p>
            <Link to="/new" className="act next">
              take in a car
            </Link>
          </div>
        )}
      </main>
      <footer className="px-gap py-16 mt-auto gap-gap flex items-center justify-between narrow:p-16 narrow:flex-col narrow:items-start">
        {bay.shop.demo ? (
          <>
            <p className="text-soft">
              These cars run on the simulated engine. Your own shop starts empty and stays apart.
            </p>
            <SwitchShop to="own" words="start my own shop" />
          </>
        ) : (
          <SwitchShop to="demo" words="look at the demo shop" />
        )}
      </footer>
    </div>
  )
}

/** Drawn again only when its own visit changes. */
const Row = memo(function Row({ file, first }: { file: VisitFile; first?: boolean }) {
  // only a car whose next act hangs on its readings is worked out here: the first screen waits for nothing
  const [painted, setPainted] = useState(false)
  useEffect(() => {
    const later = setTimeout(() => setPainted(true), WEIGH_AFTER_MS)
    return () => clearTimeout(later)
  }, [])
  const { diagnosis } = useDiagnosis(painted && nowAct(file).id === 'undecided' ? file : undefined, 0)
  const now = nowAct(file, diagnosis)
  const done = stageStatuses(file).filter((s) => s.state === 'done').length
  return (
    <li>
      <Link
        to={nowLink(file.visit.id, now)}
        className={`bay-row px-gap py-12 border-b border-b-line gap-gap grid grid-cols-[minmax(250px,1fr)_350px_minmax(250px,1.1fr)_170px] items-center no-underline min-h-92 hover:bg-face-2 narrow:px-16 narrow:py-12 narrow:gap-6 narrow:grid-cols-[1fr] focus-visible:bg-face-2`}
      >
        <span className="flex flex-col min-w-0">
          <span className="name">{file.vehicle.spec.name}</span>
          <span className="text-soft text-small">
            {file.vehicle.plate} · {describeEngine(file.vehicle.spec)}
          </span>
          <span className="text-small">{complaintOf(file.visit)}</span>
        </span>
        <LittleLine file={file} />
        <span className="flex flex-col min-w-0">
          <span
            className={`text-lead leading-snug font-semibold ${first ? 'bg-now text-now-ink px-10 py-4 -ml-10' : ''}`}
          >
            {now.title}
          </span>
          <span className="text-soft text-small">{now.why}</span>
        </span>
        <span className="flex flex-col min-w-0 text-small">
          <span>{sayDay(file.visit.openedAt)}</span>
          <span className="text-soft">
            since {sayTime(file.visit.openedAt)}; {done} of {STAGES.length} stages
          </span>
        </span>
      </Link>
    </li>
  )
})

const sayVisits = (n: number): string => `${n} ${n === 1 ? 'visit' : 'visits'}`

function Find() {
  const [q, setQ] = useState('')
  const [found, setFound] = useState<FindResult>()
  useEffect(() => {
    if (!q.trim()) return setFound(undefined)
    const later = setTimeout(() => {
      getJson<FindResult>(`/api/find?q=${encodeURIComponent(q)}`)
        .then(setFound)
        .catch(() => setFound(undefined))
    }, 120)
    return () => clearTimeout(later)
  }, [q])
  return (
    <div className="relative w-250 narrow:order-5 narrow:w-full">
      <input
        className="field"
        type="search"
        aria-label="find by plate, name or code"
        placeholder="plate, name or code"
        value={q}
        onChange={(e) => setQ(e.target.value)}
      />
      {found && (
        <ul className="found px-12 py-4 -right-80 left-0 border-2 border-ink absolute z-5 bg-face">
          {found.vehicles.map((v) => (
            <li key={v.id}>
              <Link className="block min-h-tap leading-tap no-underline" to={`/car/${encodeURIComponent(v.id)}`}>
                <b>{v.plate}</b> {v.spec.name}
                <span className="text-soft text-small">
                  {' '}
                  {sayVisits(found.visits.filter((x) => x.vehicleId === v.id).length)}
                </span>
              </Link>
            </li>
          ))}
          {!found.vehicles.length && <li className="text-soft">no car of that plate, name or code</li>}
        </ul>
      )}
    </div>
  )
}

function SwitchShop({ to, words }: { to: 'own' | 'demo'; words: string }) {
  const [busy, setBusy] = useState(false)
  const go = async (): Promise<void> => {
    setBusy(true)
    // an answer that went down with the server is told by what comes back
    await postJson('/api/shop/open', { which: to }).catch(() => undefined)
    // with the other shop, within a second or two; on a busy computer later
    for (let i = 0; i < 240; i++) {
      await new Promise((r) => setTimeout(r, 250))
      const shop = await fetch('/api/shop')
        .then((r) => r.json() as Promise<{ demo: boolean }>)
        .catch(() => undefined)
      if (shop && shop.demo === (to === 'demo')) break
    }
    location.reload()
  }
  return (
    <button type="button" className="act" disabled={busy} onClick={() => void go()}>
      {busy ? 'opening …' : words}
    </button>
  )
}
