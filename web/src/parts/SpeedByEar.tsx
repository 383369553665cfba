import { useRef, useState } from 'react'
import type { Speed, Vehicle } from '@uvula/core'
import { reader } from '../workers/heart.js'
import { listen } from './listen.js'

/** Seconds that are listened to. */
const LISTEN_S = 4

/** Speed of the crank where no scan tool gives it: by the device's microphone, or from a file with the ripple. */
export function SpeedByEar({ vehicle, onSpeed }: { vehicle: Vehicle; onSpeed: (rpm: number | undefined) => void }) {
  const choose = useRef<HTMLInputElement>(null)
  const [left, setLeft] = useState<number>()
  const [working, setWorking] = useState(false)
  const [heard, setHeard] = useState<Speed>()
  const [problem, setProblem] = useState<string>()
  const judge = async (work: (by: ReturnType<typeof reader>) => Promise<Speed | string>): Promise<void> => {
    const by = reader()
    setWorking(true)
    setProblem(undefined)
    setHeard(undefined)
    try {
      const speed = await work(by)
      if (typeof speed === 'string') return setProblem(speed)
      setHeard(speed)
      onSpeed(speed.rpm ? Math.round(speed.rpm.median) : undefined)
    } catch (e) {
      setProblem((e as Error).message)
    } finally {
      by.stop()
      setLeft(undefined)
      setWorking(false)
    }
  }
  const byEar = (): Promise<void> =>
    judge(async (by) => {
      const { signal, sampleHz } = await listen(LISTEN_S, setLeft)
      return by.speed(signal, sampleHz, vehicle)
    })
  const byFile = (f: File): Promise<void> =>
    judge(async (by) => {
      const result = await by.speedOfFile(new Uint8Array(await f.arrayBuffer()), vehicle)
      return result.ok ? result.value : `${f.name}: ${result.error.message}`
    })
  return (
    <div className="my-8 flex flex-wrap items-center gap-8" data-heard={heard?.rpm ? Math.round(heard.rpm.median) : ''}>
      <button type="button" className="act" disabled={working} onClick={() => void byEar()}>
        {left !== undefined && left > 0
          ? `listening, ${left} s`
          : working
            ? 'working it out'
            : 'listen at the tailpipe'}
      </button>
      <button type="button" className="act" disabled={working} onClick={() => choose.current?.click()}>
        from a file
      </button>
      <input
        ref={choose}
        type="file"
        accept=".wav,.csv"
        className="sr-only"
        tabIndex={-1}
        aria-label="sound or ripple file"
        onChange={(e) => {
          const f = e.target.files?.[0]
          e.target.value = ''
          if (f) void byFile(f)
        }}
      />
      <p role="status" className={heard && !heard.rpm ? 'wrong w-full' : 'w-full text-small'}>
        {heard?.rpm
          ? `${heard.rpm.median.toFixed(0)} rpm heard, ${heard.rpm.low.toFixed(0)} to ${heard.rpm.high.toFixed(0)}.`
          : heard
            ? `Not sure: ${heard.warnings[0]?.message ?? 'nothing was heard.'}`
            : 'Hold the speed; extraction on; the tablet a metre from the pipe.'}
      </p>
      {problem && (
        <p className="wrong w-full" role="alert">
          {problem}
        </p>
      )}
    </div>
  )
}
