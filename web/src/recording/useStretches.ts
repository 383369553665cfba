import type { ChosenStretch, OperatingPoint, RecordingRecord, VisitFile } from '@uvula/core'
import { useWriter } from '../store/visit.js'

const asChosen = (list: readonly OperatingPoint[]): ChosenStretch[] =>
  list.map(({ startS, endS, kind }) => ({ startS, endS, kind }))

/** What a technician does with the stretches of a recording: what is shown follows at once, the figures with the server's answer. */
export function useStretches(
  file: VisitFile,
  recording: RecordingRecord,
): {
  readonly move: (i: number, startS: number, endS: number) => void
  readonly leaveOut: (i: number) => void
  readonly count: (startS: number, endS: number) => void
  readonly asFound: () => void
} {
  const { write } = useWriter(file)
  const { visitId, round, name, points } = recording
  const choose = (chosen: readonly ChosenStretch[] | null, shown: readonly OperatingPoint[]): void =>
    write('recordings', recording.id, { visitId, round, name, stretches: chosen }, { local: { points: shown } })
  return {
    move: (i, startS, endS) => {
      const next = points.map((p, k) => (k === i ? { ...p, startS, endS } : p))
      choose(asChosen(next), next)
    },
    leaveOut: (i) => {
      const next = points.filter((_, k) => k !== i)
      choose(asChosen(next), next)
    },
    count: (startS, endS) =>
      choose(
        [...asChosen(points), { startS, endS }].sort((a, b) => a.startS - b.startS),
        points,
      ),
    asFound: () => choose(null, points),
  }
}
