/** Hole sizes shown beside the found one [mm]. */
const SIZES = [1, 1.5, 2, 2.5, 3, 4, 5] as const

/** A leak as a hole among holes, drawn three times its size; the nearest one is filled. */
export function Holes({ diameterMm }: { diameterMm: number }) {
  // 3.78 px a millimetre at 96 dpi
  const px = (mm: number): number => 3 * 3.78 * mm
  const nearest = SIZES.reduce((a, b) => (Math.abs(b - diameterMm) < Math.abs(a - diameterMm) ? b : a))
  let x = 6
  const drawn = SIZES.map((mm) => {
    const r = px(mm) / 2
    const cx = x + r
    x += 2 * r + 14
    return { mm, r, cx }
  })
  return (
    <svg
      className="chart"
      viewBox={`0 0 ${x} 92`}
      role="img"
      aria-label={`a hole of ${diameterMm.toFixed(1)} mm among holes`}
    >
      {drawn.map(({ mm, r, cx }) => (
        <g key={mm}>
          <circle cx={cx} cy={32} r={r} className={mm === nearest ? 'ring-fill' : 'ring thin'} />
          <text x={cx} y={86} textAnchor="middle">
            {mm}
          </text>
        </g>
      ))}
    </svg>
  )
}
