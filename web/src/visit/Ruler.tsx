import { memo, useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { STAGES, stageStatuses, type StageId, type VisitFile } from '@uvula/core'

/** The twelve stages as a ruler along the bottom edge, each saying what it has. */
export const Ruler = memo(function Ruler({ file, stage }: { file: VisitFile; stage: StageId }) {
  const statuses = stageStatuses(file)
  const here = useRef<HTMLAnchorElement>(null)
  useEffect(() => {
    // in braces: some browsers answer with a promise, which is no clean-up
    void here.current?.scrollIntoView({ inline: 'center', block: 'nearest' })
  }, [stage])
  return (
    <nav
      className="ruler pl-12 border-t-2 border-t-ink [grid-area:ruler] grid grid-cols-[repeat(12,minmax(96px,1fr))] narrow:grid-cols-[repeat(12,118px)] overflow-x-auto [scrollbar-width:none] short:bottom-0 short:sticky short:z-5 short:bg-face short:min-h-52 print:hidden"
      aria-label="stages"
    >
      {STAGES.map((s) => {
        const status = statuses.find((x) => x.stage === s.id)!
        const open = s.id === stage
        return (
          <Link
            className="pr-2 pl-10 pt-6 pb-0 text-label relative flex flex-col justify-start leading-snug no-underline whitespace-nowrap before:top-0 before:left-0 before:absolute before:w-2 before:h-14 before:bg-ink after:top-0 after:right-0 after:left-[20%] after:absolute after:h-6 after:bg-[repeating-linear-gradient(90deg,var(--color-line)_0_1px,transparent_1px_20%)] data-[state=done]:before:h-30 [&[aria-current]]:font-semibold [&[aria-current]]:text-body [&[aria-current]]:tracking-[-0.01em] [&[aria-current]]:before:w-7 [&[aria-current]]:before:h-34"
            key={s.id}
            ref={open ? here : undefined}
            to={`/visit/${encodeURIComponent(file.visit.id)}/${s.id}`}
            aria-current={open ? 'step' : undefined}
            data-state={status.state}
          >
            <span>{s.label}</span>
            <span className="text-soft text-small">{status.text}</span>
          </Link>
        )
      })}
    </nav>
  )
})
