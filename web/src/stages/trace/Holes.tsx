/** Hole sizes shown beside the found one [mm], and how many times their size they are drawn: large ones would leave the page. */
const SMALL = { times: 3, sizes: [1, 1.5, 2, 2.5, 3, 4, 5] } as const
const LARGE = { times: 2, sizes: [4, 5, 6, 8, 10] } as const
const SMALL_TO_MM = 5.5
/** Pixels of a millimetre at 96 dpi. */
const PX_PER_MM = 3.78

const shownBeside = (diameterMm: number): typeof SMALL | typeof LARGE => (diameterMm > SMALL_TO_MM ? LARGE : SMALL)

/** How many times its size a hole is drawn, in words. */
export const holeTimes = (diameterMm: number): string => (shownBeside(diameterMm).times === 2 ? 'twice' : 'three times')

/** A leak as a hole among holes, drawn larger than it is; the nearest one is filled. */
export function Holes({ diameterMm }: { diameterMm: number }) {
  const { times, sizes } = shownBeside(diameterMm)
  const nearest = [...sizes].reduce((a, b) => (Math.abs(b - diameterMm) < Math.abs(a - diameterMm) ? b : a))
  let x = 6
  const drawn = sizes.map((mm) => {
    const r = (times * PX_PER_MM * mm) / 2
    const cx = x + r
    x += 2 * r + 14
    return { mm, r, cx }
  })
  const cy = 4 + Math.max(...drawn.map((d) => d.r))
  return (
    <svg
      className="chart"
      viewBox={`0 0 ${x} ${2 * cy + 28}`}
      role="img"
      aria-label={`a hole of ${diameterMm.toFixed(1)} mm among holes`}
    >
      {drawn.map(({ mm, r, cx }) => (
        <g key={mm}>
          <circle cx={cx} cy={cy} r={r} className={mm === nearest ? 'ring-fill' : 'ring thin'} />
          <text x={cx} y={2 * cy + 22} textAnchor="middle">
            {mm}
          </text>
        </g>
      ))}
    </svg>
  )
}
