import { useState } from 'react'
import { Delete } from 'lucide-react'
import type { Person, Standing } from '@uvula/contract'
import { Choose } from '../kit/Choose.js'
import { postJson, wordsOf } from '../store/api.js'
import { technician } from '../store/settings.js'

const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'] as const
const FEWEST = 4
const MOST = 8

/** Whoever takes the tablet up: the name at a touch, then the PIN on large keys or a keyboard. */
export function SignIn({
  people,
  me,
  onIn,
}: {
  people: readonly Person[]
  me?: Person
  onIn: (standing: Standing) => void
}) {
  const last = people.find((p) => p.name === technician() && p.id !== me?.id)
  const [who, setWho] = useState(last?.id ?? (people.length === 1 ? people[0].id : undefined))
  const [pin, setPin] = useState('')
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState<string>()
  const chosen = people.find((p) => p.id === who)
  const type = (next: string): void => {
    setProblem(undefined)
    setPin(next.replace(/\D/g, '').slice(0, MOST))
  }
  const send = async (): Promise<void> => {
    setBusy(true)
    try {
      onIn(await postJson<Standing>('/api/access/sign-in', { person: who, pin }))
    } catch (e) {
      setProblem(wordsOf(e))
    } finally {
      setPin('')
      setBusy(false)
    }
  }
  return (
    <form
      className="grid gap-20"
      onSubmit={(e) => {
        e.preventDefault()
        if (chosen && pin.length >= FEWEST) void send()
      }}
    >
      <Choose
        label="who works on this tablet"
        look="box"
        className="flex flex-wrap gap-12"
        itemClass="min-h-64 text-lead px-20"
        value={who}
        choices={people.map((p) => ({ value: p.id, label: p.name }))}
        onChange={(id) => {
          setWho(id)
          type('')
        }}
      />
      {chosen && (
        <div className="grid justify-items-start gap-12">
          <label htmlFor="pin">PIN of {chosen.name}</label>
          <input
            id="pin"
            type="password"
            inputMode="none"
            autoComplete="off"
            autoFocus
            className="field fig w-360 text-reading narrow:w-full"
            value={pin}
            onChange={(e) => type(e.target.value)}
          />
          <div className="grid w-360 grid-cols-3 gap-8 narrow:w-full" role="group" aria-label="digits">
            {DIGITS.map((d) => (
              <button
                key={d}
                type="button"
                className="act fig min-h-72 justify-center text-figure"
                onClick={() => type(pin + d)}
              >
                {d}
              </button>
            ))}
            <button
              type="button"
              className="act min-h-72 justify-center"
              aria-label="take the last digit back"
              onClick={() => type(pin.slice(0, -1))}
            >
              <Delete size={28} aria-hidden />
            </button>
            <button type="submit" className="act next min-h-72 justify-center" disabled={busy || pin.length < FEWEST}>
              sign in
            </button>
          </div>
        </div>
      )}
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
    </form>
  )
}
