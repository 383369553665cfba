import { airPathOf, stationStates, trunkOf, type VisitFile } from '@uvula/core'
import { Ring } from './Ring.js'

/** Width it is drawn at in a row of the bay [px]. */
const BAY_W = 340
const H = 62

/** A car's air line, small: the trunk and what hangs on it, as states only. */
export function LittleLine({ file, width: W = BAY_W }: { file: VisitFile; width?: number }) {
  const path = airPathOf(file.vehicle.spec)
  const states = stationStates(file)
  const trunk = trunkOf(path)
  // what hangs on a branch stands with it: in a row of rings there is no room for twigs
  const onPipe = new Set(path.stations.filter((s) => s.lane !== 'branch').map((s) => s.info.id))
  const branches = path.stations.filter((s) => s.lane === 'branch' && onPipe.has(s.joins!))
  const step = (W - 30) / Math.max(1, trunk.length - 1 + Math.ceil(branches.length / 2) * 0.55)
  let x = 14
  const drawn = trunk.flatMap((t) => {
    const here = [{ id: t.info.id, x, y: H / 2, joinX: undefined as number | undefined }]
    const hang = branches.filter((b) => b.joins === t.info.id || b.joins === `${t.info.id}-2`)
    hang.forEach((b, i) => {
      const bx = x + step * (0.55 + 0.55 * Math.floor(i / 2))
      here.push({ id: b.info.id, x: bx, y: i % 2 ? H - 12 : 12, joinX: bx })
    })
    const twin = path.stations.find((s) => s.info.id === `${t.info.id}-2`)
    if (twin) here.push({ id: twin.info.id, x, y: H - 9, joinX: undefined })
    x += step * (1 + Math.ceil(hang.length / 2) * 0.55)
    return here
  })
  const end = Math.max(...drawn.map((d) => d.x))
  return (
    <svg className="narrow:max-w-full" viewBox={`0 0 ${W} ${H}`} width={W} height={H} aria-hidden="true">
      <rect x={4} y={H / 2 - 5} width={Math.min(W - 6, end + 14)} height={10} className="pipe" />
      {path.stations.some((s) => s.lane === 'second') && (
        <rect x={4} y={H - 13} width={Math.min(W - 6, secondEnd(drawn) + 10)} height={8} className="pipe" />
      )}
      {drawn.map(
        (d) =>
          d.joinX !== undefined && <line key={d.id} x1={d.joinX} x2={d.x} y1={H / 2} y2={d.y} className="branch" />,
      )}
      {drawn.map((d) => (
        <Ring key={d.id} x={d.x} y={d.y} r={6.5} state={states.get(d.id) ?? 'unseen'} />
      ))}
    </svg>
  )
}

/** Where the second inlet ends: at the last of its rings. */
const secondEnd = (drawn: readonly { readonly id: string; readonly x: number }[]): number =>
  Math.max(...drawn.filter((d) => d.id.endsWith('-2') && d.id !== 'runners-2').map((d) => d.x))
