import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { procedureOfOwn, type RunEvent } from '@uvula/core'
import { Waiting } from '../parts/States.js'
import { RunFace } from '../run/RunFace.js'
import { useProcedures } from '../store/shopRecords.js'
import { shopTimeOf } from '../store/clock.js'

/** A test run of a shop's own procedure, on no car: nothing of it is kept. */
export function TryRun() {
  const { id = '' } = useParams()
  const navigate = useNavigate()
  const { procedures } = useProcedures()
  const [seen, setSeen] = useState<readonly string[]>([])
  const [events, setEvents] = useState<readonly RunEvent[]>([])
  const own = procedures?.find((p) => p.id === id)
  if (!own) return <Waiting what="the procedure" />
  const procedure = procedureOfOwn(own.value)
  const unseen = procedure.preconditions.filter((c) => !seen.includes(c.id))
  return (
    <RunFace
      procedure={{ ...procedure, label: `Test run: ${procedure.label}` }}
      title={`Test run: ${procedure.label}`}
      events={events}
      unseen={unseen}
      mayBegin={unseen.length === 0}
      onTick={(c) => setSeen([...seen, c])}
      onEvent={(kind, timeStamp) => setEvents((all) => [...all, { kind, atMs: shopTimeOf(timeStamp) }])}
      onBack={() => void navigate(`/procedures/${encodeURIComponent(id)}`)}
    />
  )
}
