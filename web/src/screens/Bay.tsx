import { memo, useEffect, useState } from 'react'
import { Link } from 'react-router'
import { describeEngine, nowAct, stageStatuses, STAGES, UNDECIDED, type VisitFile } from '@uvula/core'
import type { FindResult } from '@uvula/contract'
import { Delivery } from '../parts/Delivery.js'
import { LittleLine } from '../parts/LittleLine.js'
import { getJson, postJson } from '../store/api.js'
import { useBay } from '../store/visit.js'
import { useDiagnosis } from '../workers/heart.js'
import { sayDay, sayTime } from '../words/format.js'
import { Failing, Waiting } from './States.js'
import './bay.css'

/** Today's cars, one row each: its small air line and its next act. */
export function Bay() {
  const { bay, error } = useBay()
  if (error && !bay) return <Failing error={error} />
  if (!bay) return <Waiting what="the bay" />
  const [front, ...rest] = bay.rows
  return (
    <div className="bay">
      <header className="bay-head">
        <h1>
          <b>{bay.shop.name}</b> {bay.shop.demo && <span className="badge small">demo, all made up</span>}
        </h1>
        <Find />
        <Delivery />
        <Link to="/settings" className="act">
          settings
        </Link>
        <Link to="/new" className="act strong">
          new car
        </Link>
      </header>
      {front ? (
        <ol className="bay-rows">
          <Row file={front} first />
          {rest.map((f) => (
            <Row key={f.visit.id} file={f} />
          ))}
        </ol>
      ) : (
        <div className="state-page">
          <p className="name">No car in the bay</p>
          <p>Take one in: pick the nearest engine, tap what differs, and its air line is drawn.</p>
          <Link to="/new" className="act next">
            take in a car
          </Link>
        </div>
      )}
      <footer className="bay-foot">
        {bay.shop.demo ? (
          <>
            <p className="soft">These cars run on the simulated engine. Your own shop starts empty and stays apart.</p>
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
    const later = setTimeout(() => setPainted(true), 100)
    return () => clearTimeout(later)
  }, [])
  const { diagnosis } = useDiagnosis(painted && nowAct(file).title === UNDECIDED ? file : undefined, 0)
  const now = nowAct(file, diagnosis)
  const done = stageStatuses(file).filter((s) => s.state === 'done').length
  return (
    <li>
      <Link
        to={`/visit/${encodeURIComponent(file.visit.id)}/${now.stage}`}
        className={first ? 'bay-row first' : 'bay-row'}
      >
        <span className="bay-car">
          <span className="name">{file.vehicle.spec.name}</span>
          <span className="soft small">
            {file.vehicle.plate} · {describeEngine(file.vehicle.spec)}
          </span>
          <span className="small">{file.visit.complaint || 'check-up'}</span>
        </span>
        <LittleLine file={file} />
        <span className="bay-now">
          <span className="bay-act">{now.title}</span>
          <span className="soft small">{now.why}</span>
        </span>
        <span className="bay-when small">
          <span>{sayDay(file.visit.openedAt)}</span>
          <span className="soft">
            since {sayTime(file.visit.openedAt)}; {done} of {STAGES.length} stages
          </span>
        </span>
      </Link>
    </li>
  )
})

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
    <div className="find">
      <input
        className="field"
        type="search"
        aria-label="find by plate or name"
        placeholder="find by plate or name"
        value={q}
        onChange={(e) => setQ(e.target.value)}
      />
      {found && (
        <ul className="found">
          {found.vehicles.map((v) => (
            <li key={v.id}>
              <Link to={`/car/${encodeURIComponent(v.id)}`}>
                <b>{v.plate}</b> {v.spec.name}
                <span className="soft small"> {found.visits.filter((x) => x.vehicleId === v.id).length} visits</span>
              </Link>
            </li>
          ))}
          {!found.vehicles.length && <li className="soft">no car of that plate or name</li>}
        </ul>
      )}
    </div>
  )
}

function SwitchShop({ to, words }: { to: 'own' | 'demo'; words: string }) {
  const [busy, setBusy] = useState(false)
  const go = async (): Promise<void> => {
    setBusy(true)
    await postJson('/api/shop/open', { which: to })
    // the server comes back with the other data file within a second or two
    for (let i = 0; i < 40; i++) {
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
