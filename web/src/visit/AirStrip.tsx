import { ChevronDown } from 'lucide-react'
import { memo, useLayoutEffect, useRef, useState } from 'react'
import { live, stationInfo, stationStates, type VisitFile } from '@uvula/core'
import { LittleLine } from '../parts/LittleLine.js'

/** Widest the strip is drawn [px]: its rings stay rings. */
const WIDEST = 1240

/** The air line as a strip of rings, for benches that do not work on it; a touch opens it. */
export const AirStrip = memo(function AirStrip({ file, onOpen }: { file: VisitFile; onOpen: () => void }) {
  const box = useRef<HTMLButtonElement>(null)
  const [width, setWidth] = useState(WIDEST)
  const stands = whatStands(file)
  const wordless = stands === ''
  useLayoutEffect(() => {
    const el = box.current!
    const fit = (): void =>
      setWidth(Math.max(280, Math.min(WIDEST, el.clientWidth - (el.clientWidth <= 900 ? 60 : wordless ? 90 : 360))))
    const watch = new ResizeObserver(fit)
    watch.observe(el)
    fit()
    return () => watch.disconnect()
    // words beside it leave it less room
  }, [wordless])
  return (
    <button
      ref={box}
      type="button"
      aria-expanded={false}
      onClick={onOpen}
      className="flex h-66 w-full narrow:short:h-54 items-center gap-16 overflow-hidden border-b-2 border-b-ink px-gap narrow:px-14"
    >
      <span className="sr-only">open the air line</span>
      <LittleLine file={file} width={width} />
      <span className="flex-1 text-small leading-tight narrow:hidden">{stands}</span>
      <ChevronDown size={24} aria-hidden className="flex-none" />
    </button>
  )
})

/** What the line would show: what is off the car, what failed; else how much of it was looked at. */
function whatStands(file: VisitFile): string {
  const off = [
    ...new Set(
      live(file.items)
        .filter((i) => i.state !== 'on')
        .map((i) => i.station),
    ),
  ]
  const failed = [...stationStates(file)].filter(([, s]) => s === 'failed').map(([id]) => id)
  const names = (ids: readonly Parameters<typeof stationInfo>[0][]): string =>
    ids.map((id) => stationInfo(id).label).join(', ')
  return [off.length && `open at the ${names(off)}`, failed.length && `failed: ${names(failed)}`]
    .filter(Boolean)
    .join('; ')
}
