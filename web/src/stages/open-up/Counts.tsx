import { useState } from 'react'
import { countsOf, COUNTED_THINGS, type StationId, type VisitFile } from '@uvula/core'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'

/** Cloths, plugs, props, tools: counted in, counted out. */
export function Counts({ file, station }: { file: VisitFile; station: StationId }) {
  const { write } = useWriter(file)
  const counted = countsOf(file)
  const put = (thing: string, putIn: number, takenOut: number): void =>
    write('counts', `${file.visit.id}:count:${newId()}`, { visitId: file.visit.id, thing, station, putIn, takenOut })
  const [other, setOther] = useState('')
  const things = [...new Set<string>([...COUNTED_THINGS, ...counted.map((c) => c.thing)])]
  return (
    <>
      <ul>
        {things.map((thing) => {
          const c = counted.find((x) => x.thing === thing)
          return (
            <li
              className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
              key={thing}
              data-count={thing}
            >
              <span>
                {thing}
                {c && c.putIn !== c.takenOut ? <b> still in</b> : ''}
              </span>
              <span className="gap-6 flex items-center">
                <button
                  className="border-2 border-ink w-tap text-center text-figure"
                  type="button"
                  aria-label={`${thing} in`}
                  onClick={() => put(thing, 1, 0)}
                >
                  +
                </button>
                <span className="fig text-figure min-w-64 text-center">
                  {c?.takenOut ?? 0}/{c?.putIn ?? 0}
                </span>
                <button
                  className="border-2 border-ink w-tap text-center text-figure"
                  type="button"
                  aria-label={`${thing} out`}
                  disabled={!c || c.takenOut >= c.putIn}
                  onClick={() => put(thing, 0, 1)}
                >
                  −
                </button>
              </span>
              <span className="ml-6 text-soft text-small">out/in</span>
            </li>
          )
        })}
      </ul>
      <form
        className="mt-8 flex gap-8"
        onSubmit={(e) => {
          e.preventDefault()
          if (!other.trim()) return
          put(other.trim(), 1, 0)
          setOther('')
        }}
      >
        <input
          className="field"
          aria-label="something else that goes in"
          placeholder="something else that goes in"
          maxLength={60}
          value={other}
          onChange={(e) => setOther(e.target.value)}
        />
        <button type="submit" className="act">
          count it in
        </button>
      </form>
    </>
  )
}
