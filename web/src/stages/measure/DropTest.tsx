import { useState } from 'react'
import {
  judgeDrops,
  mayTake,
  parseTyped,
  QUANTITIES,
  roundToFill,
  TAKEN_STOPS,
  takenOf,
  type VisitFile,
} from '@uvula/core'
import { FieldRow } from '../../kit/FieldRow.js'
import { Stop } from '../../parts/Stop.js'
import { useWriter } from '../../store/visit.js'
import { useSpeedFall } from './useSpeedFall.js'

/** One cylinder out at a time, seconds each: what the speed falls by, compared with the others'. */
export function DropTest({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const [typed, setTyped] = useState<Readonly<Record<number, string>>>({})
  const [problem, setProblem] = useState<string>()
  const round = roundToFill(file)
  const { rpm, fall } = useSpeedFall()
  const [taking, setTaking] = useState<number>()
  const gate = mayTake(file, { kind: 'drop' })
  const mine = takenOf(file.balances, 'drop').filter((b) => b.round === round)
  const judged = judgeDrops(mine.map((b) => b.taken))
  const id = (cylinder: number): string => `${file.visit.id}:${round}:drop:${cylinder}`
  const keep = (cylinder: number): void => {
    const text = typed[cylinder]
    if (text === undefined) return
    const forget = (): void =>
      setTyped(Object.fromEntries(Object.entries(typed).filter(([c]) => Number(c) !== cylinder)))
    if (text.trim() === '') {
      if (mine.some((b) => b.taken.cylinder === cylinder)) remove('balances', id(cylinder))
      return forget()
    }
    const read = parseTyped(text, 'rotation', QUANTITIES.rotation.units[0])
    if (!read.ok) return setProblem(`Cylinder ${cylinder}: ${read.message}`)
    if (!(read.value >= -50 && read.value <= 1500)) return setProblem(`Cylinder ${cylinder}: −50 to 1500 rpm.`)
    setProblem(undefined)
    forget()
    write('balances', id(cylinder), {
      visitId: file.visit.id,
      round,
      taken: { kind: 'drop', cylinder, rpmDrop: read.value },
    })
  }
  /** The speed before, and what it fell to while this cylinder is out. */
  const fromLive = async (cylinder: number): Promise<void> => {
    setTaking(cylinder)
    setProblem(undefined)
    const drop = await fall()
    setTaking(undefined)
    if (drop === undefined) return setProblem(`Cylinder ${cylinder}: the speed was not read all the while; once more.`)
    write('balances', id(cylinder), {
      visitId: file.visit.id,
      round,
      taken: { kind: 'drop', cylinder, rpmDrop: Number(drop.toFixed(0)) },
    })
  }
  return (
    <section aria-label="drop test">
      <p className="name">By drops</p>
      <p className="mb-6 text-small text-soft">
        Idle control held off, one lead or injector off for a few seconds: by how much does the speed fall? Let it
        settle in between.
      </p>
      {TAKEN_STOPS.drop.map((stop) => (
        <Stop key={stop} file={file} id={stop} />
      ))}
      <ol aria-label="drops">
        {Array.from({ length: file.vehicle.spec.cylinders }, (_, i) => i + 1).map((c) => {
          const kept = mine.find((b) => b.taken.cylinder === c)
          const j = judged.find((x) => x.cylinder === c)
          return (
            <FieldRow
              key={c}
              id={`drop-${c}`}
              label={`cylinder ${c}`}
              unit="rpm"
              disabled={!gate.ok}
              value={typed[c] ?? kept?.taken.rpmDrop ?? ''}
              onText={(text) => setTyped({ ...typed, [c]: text })}
              onBlur={() => keep(c)}
              onEnter={() => keep(c)}
            >
              {rpm !== undefined && (
                <button
                  type="button"
                  className="act"
                  disabled={!gate.ok || taking !== undefined}
                  onClick={() => void fromLive(c)}
                >
                  {taking === c ? 'falls …' : 'out now'}
                </button>
              )}
              <span className={j?.weak ? 'font-semibold' : 'text-small text-soft'}>
                {j
                  ? `${j.weak ? 'does less: ' : ''}${j.sharePct.median.toFixed(0)} % of the others (${j.sharePct.low.toFixed(0)} to ${j.sharePct.high.toFixed(0)})`
                  : ''}
              </span>
            </FieldRow>
          )
        })}
      </ol>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      {mine.length > 0 && mine.length < 3 && <p className="text-small">Three at least: one alone says nothing.</p>}
    </section>
  )
}
