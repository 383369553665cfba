import { useEffect, useState } from 'react'
import { clockFace, live, secondsLeft, type TimerRecord, type VisitFile } from '@uvula/core'
import { newId } from '../store/database.js'
import { ownFields, useWriter } from '../store/visit.js'
import { shopNow, shopTimeOf } from '../store/clock.js'

/** The shop's time now, again and again; what it is for computes from stored starts, so a missed beat loses nothing. */
export function useNow(everyMs = 250): number {
  const [now, setNow] = useState(shopNow)
  useEffect(() => {
    const beat = setInterval(() => setNow(shopNow()), everyMs)
    return () => clearInterval(beat)
  }, [everyMs])
  return now
}

/** Timers that go on, seen from every stage. */
export function Timers({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const timers = live(file.timers).filter((t) => !t.ended)
  if (!timers.length) return null
  return (
    <section className="border-b border-b-line px-14 pt-8 pb-10">
      <h2 className="text-soft text-small">running</h2>
      {timers.map((t) => (
        <Timer key={t.id} timer={t} onEnd={() => write('timers', t.id, { ...ownFields(t), ended: true })} />
      ))}
    </section>
  )
}

function Timer({ timer, onEnd }: { timer: TimerRecord; onEnd: () => void }) {
  const left = secondsLeft(Date.parse(timer.startedAt), timer.seconds, useNow())
  return (
    <div className="timer flex flex-wrap items-baseline gap-x-8" data-timer={timer.id} data-left={left.toFixed(2)}>
      <span className="fig text-reading leading-none">{clockFace(left)}</span>
      <button className="order-3 ml-auto min-w-tap" type="button" aria-label={`end ${timer.label}`} onClick={onEnd}>
        end
      </button>
      <span className="order-4 w-full text-small narrow:order-2 narrow:w-auto">
        {left < 0 ? <b>{timer.label}: over</b> : timer.label}
      </span>
    </div>
  )
}

/** One tap starts a timer. */
export function StartTimer({
  file,
  label,
  kind,
  seconds,
}: {
  file: VisitFile
  label: string
  kind: TimerRecord['kind']
  seconds: number
}) {
  const { write } = useWriter(file)
  return (
    <button
      type="button"
      className="act"
      onClick={(e) => {
        const startedAt = new Date(shopTimeOf(e.timeStamp)).toISOString()
        write(
          'timers',
          `${file.visit.id}:timer:${newId()}`,
          { visitId: file.visit.id, label, kind, startedAt, seconds, ended: false },
          { eventTime: e.timeStamp },
        )
      }}
    >
      start {clockFace(seconds)}: {label}
    </button>
  )
}
