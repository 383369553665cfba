import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { STAGES, stageStatuses, type StageId, type VisitFile } from '@uvula/core'

/** The twelve stages as a ruler along the bottom edge, each saying what it has. */
export function Ruler({ file, stage }: { file: VisitFile; stage: StageId }) {
  const statuses = stageStatuses(file)
  const here = useRef<HTMLAnchorElement>(null)
  useEffect(() => {
    // in braces: some browsers answer with a promise, which is no clean-up
    void here.current?.scrollIntoView({ inline: 'center', block: 'nearest' })
  }, [stage])
  return (
    <nav className="ruler" aria-label="stages">
      {STAGES.map((s) => {
        const status = statuses.find((x) => x.stage === s.id)!
        const open = s.id === stage
        return (
          <Link
            key={s.id}
            ref={open ? here : undefined}
            to={`/visit/${encodeURIComponent(file.visit.id)}/${s.id}`}
            aria-current={open ? 'step' : undefined}
            data-state={status.state}
          >
            <span>{s.label}</span>
            <span className="small soft">{status.text}</span>
          </Link>
        )
      })}
    </nav>
  )
}
