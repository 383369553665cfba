/** What the lines of the charts are: shown where there is more than the recording's own. */
export function Legend({ own, under, bands }: { own: string; under: string | undefined; bands: boolean }) {
  if (under === undefined && !bands) return null
  return (
    <ul aria-label="lines" className="flex flex-wrap gap-x-20 pt-6 text-small phone:pr-16">
      <Line words={own} stroke="var(--color-ink)" width={1.5} />
      {under !== undefined && (
        <Line words={`laid under it: ${under}`} stroke="var(--color-soft)" width={3} opacity={0.7} />
      )}
      {bands && (
        <Line words="as a sound engine draws, at most and at least" stroke="var(--color-soft)" width={1.5} dashed />
      )}
    </ul>
  )
}

function Line(p: { words: string; stroke: string; width: number; opacity?: number; dashed?: boolean }) {
  return (
    <li className="flex items-center gap-6 min-w-0">
      <svg width="30" height="10" aria-hidden="true" className="flex-none">
        <path
          d="M0 5H30"
          stroke={p.stroke}
          strokeWidth={p.width}
          opacity={p.opacity}
          strokeDasharray={p.dashed ? '4 5' : undefined}
        />
      </svg>
      <span className="truncate">{p.words}</span>
    </li>
  )
}
