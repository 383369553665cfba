import { useNavigate } from 'react-router'
import { CLEAR_OUT, feedsOf, lastRound, live, mayBegin, stateOfRun, type VisitFile } from '@uvula/core'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'

/** What a feed leaves to be done: what the engine does by the minute, and the run that clears it out. */
export function AfterFeed({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const navigate = useNavigate()
  const now = useNow(5000)
  const feeds = feedsOf(file)
  const last = feeds.at(-1)
  if (!last) return null
  const runs = live(file.runs).filter((r) => r.procedure === CLEAR_OUT.id)
  const passed = runs.some((r) => stateOfRun(file, r)?.status === 'passed')
  const draft = { procedure: CLEAR_OUT.id, preconditions: CLEAR_OUT.preconditions.map((p) => p.id) }
  const gate = mayBegin(file, { ...last, ...draft, id: 'draft', feed: undefined, events: [] }, now)
  const arm = (): void => {
    const run = `${file.visit.id}:run:${newId()}`
    write('runs', run, {
      visitId: file.visit.id,
      procedure: CLEAR_OUT.id,
      attempt: runs.length + 1,
      preconditions: [],
      events: [],
      afterRound: lastRound(file),
    })
    void navigate(`/visit/${encodeURIComponent(file.visit.id)}/run/${encodeURIComponent(run)}`)
  }
  return (
    <section className="mt-8 grid gap-6" aria-label="after the feed">
      <h2 className="text-small text-soft">after the feed</h2>
      <p>Stumble and white smoke for minutes, then even. A code for rich, misfire or idle high can be of this work.</p>
      {passed ? (
        <p className="font-semibold">Cleared out.</p>
      ) : (
        <>
          <p className="text-small text-soft">{CLEAR_OUT.why}</p>
          <button type="button" className="act strong justify-center" disabled={!gate.ok} onClick={arm}>
            clear it out: idle, 2500, road
          </button>
        </>
      )}
    </section>
  )
}
