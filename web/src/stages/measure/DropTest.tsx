import { useState } from 'react'
import { judgeDrops, parseTyped, QUANTITIES, roundToFill, takenOf, type VisitFile } from '@uvula/core'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { useWriter } from '../../store/visit.js'

/** One cylinder out at a time, seconds each: what the speed falls by, compared with the others'. */
export function DropTest({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const [typed, setTyped] = useState<Readonly<Record<number, string>>>({})
  const [problem, setProblem] = useState<string>()
  const round = roundToFill(file)
  const seen = stopSeen(file, 'test-misfire-count')
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
  return (
    <section aria-label="drop test">
      <p className="name">By drops</p>
      <p className="mb-6 text-small text-soft">
        Idle control held off, one lead or injector off for a few seconds: by how much does the speed fall? Let it
        settle in between.
      </p>
      <Stop file={file} id="test-misfire-count" />
      <ol aria-label="drops">
        {Array.from({ length: file.vehicle.spec.cylinders }, (_, i) => i + 1).map((c) => {
          const kept = mine.find((b) => b.taken.cylinder === c)
          const j = judged.find((x) => x.cylinder === c)
          return (
            <li
              key={c}
              className="grid min-h-tap grid-cols-[90px_90px_40px_minmax(0,1fr)] items-center gap-8 border-b border-b-line"
            >
              <label htmlFor={`drop-${c}`}>cylinder {c}</label>
              <input
                id={`drop-${c}`}
                className="field fig text-figure text-right"
                inputMode="decimal"
                autoComplete="off"
                disabled={!seen}
                value={typed[c] ?? kept?.taken.rpmDrop ?? ''}
                onChange={(e) => setTyped({ ...typed, [c]: e.target.value })}
                onBlur={() => keep(c)}
                onKeyDown={(e) => e.key === 'Enter' && keep(c)}
              />
              <span className="text-small text-soft">rpm</span>
              <span className={j?.weak ? 'font-semibold' : 'text-small text-soft'}>
                {j
                  ? `${j.weak ? 'does less: ' : ''}${j.sharePct.median.toFixed(0)} % of the others (${j.sharePct.low.toFixed(0)} to ${j.sharePct.high.toFixed(0)})`
                  : ''}
              </span>
            </li>
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
