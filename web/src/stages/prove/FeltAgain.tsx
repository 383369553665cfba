import { feltIn, feltTick, live, signsToAsk, type Felt, type VisitFile } from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { useWriter } from '../../store/visit.js'

const FELT_WORDS: Readonly<Record<Felt, string>> = {
  gone: 'gone',
  there: 'still there',
  untold: 'not tried',
}

const FELT = Object.keys(FELT_WORDS) as Felt[]

/** What the customer came with: whether it is gone no figure says as well as who hears and feels it. */
export function FeltAgain({ file, round }: { file: VisitFile; round: number }) {
  const { write, remove } = useWriter(file)
  const asked = signsToAsk(file)
  const said = feltIn(file, round)
  if (!asked.length) return null
  const say = (sign: string, how: Felt): void => {
    for (const felt of FELT) {
      const caution = feltTick(sign, felt, round)
      const id = `${file.visit.id}:${caution}`
      if (felt === how) write('ticks', id, { visitId: file.visit.id, caution })
      else if (live(file.ticks).some((t) => t.id === id)) remove('ticks', id)
    }
  }
  return (
    <section className="mb-14">
      <h2 className="text-soft text-small">it came with: gone since the work, or still there?</h2>
      <ul>
        {asked.map((s) => (
          <li key={s.id} className="mt-8 flex flex-wrap items-center justify-between gap-x-12 gap-y-6">
            <span>{s.label}</span>
            <Choose
              label={s.label}
              look="box"
              className="flex flex-wrap gap-8"
              value={said.get(s.id)}
              choices={FELT.map((value) => ({ value, label: FELT_WORDS[value] }))}
              onChange={(how) => say(s.id, how)}
            />
          </li>
        ))}
      </ul>
    </section>
  )
}
