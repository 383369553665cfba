import { useState } from 'react'
import { PersonForm, PinForm, type Door, type Person } from '@uvula/contract'
import { Choose } from '../kit/Choose.js'
import { Close, Dialog } from '../kit/Dialog.js'
import { Field } from '../kit/Field.js'
import { useChecked } from '../kit/useChecked.js'
import { postJson, sendJson } from '../store/api.js'
import type { AtDoor } from './atDoor.js'
import { OWNER_MAY, ROLES } from './words.js'

const pathOf = (p: Person, more = ''): string => `/api/access/people/${encodeURIComponent(p.id)}${more}`

/** Who signs in on the tablets. */
export function People({ people, atDoor }: { people: readonly Person[]; atDoor: AtDoor }) {
  return (
    <div className="grid gap-4">
      <h3 className="text-small text-soft">who signs in</h3>
      <ul>
        {people.map((p) => (
          <li key={p.id} className="flex min-h-tap flex-wrap items-center gap-12 border-b border-b-line py-4">
            <span className="mr-auto">
              {p.name} <span className="text-small text-soft">{p.role}</span>
            </span>
            <NewPin person={p} atDoor={atDoor} />
            <Remove person={p} atDoor={atDoor} />
          </li>
        ))}
      </ul>
      <Add atDoor={atDoor} />
    </div>
  )
}

function Add({ atDoor }: { atDoor: AtDoor }) {
  const [open, setOpen] = useState(false)
  const form = useChecked(PersonForm, { name: '', pin: '', role: 'technician' }, 'onSubmit')
  const { errors } = form.formState
  const role = form.watch('role')
  const send = form.handleSubmit(async (values) => {
    if (!(await atDoor('taking the name in', () => postJson<Door>('/api/access/people', values)))) return
    form.reset()
    setOpen(false)
  })
  return (
    <Dialog
      open={open}
      onOpenChange={setOpen}
      title="somebody else who signs in"
      trigger={
        <button type="button" className="act justify-self-start">
          somebody else
        </button>
      }
    >
      <form className="my-16 grid w-480 max-w-full gap-12" onSubmit={(e) => void send(e)}>
        <Field label="name" look="above" error={errors.name?.message} {...form.register('name')} />
        <Field
          label="PIN"
          look="above"
          type="password"
          inputMode="numeric"
          error={errors.pin?.message}
          {...form.register('pin')}
        />
        <Choose
          label="may do"
          look="box"
          className="flex gap-8"
          value={role}
          choices={ROLES}
          onChange={(r) => form.setValue('role', r)}
        />
        <p className="text-small text-soft">{OWNER_MAY}</p>
        <div className="flex gap-12">
          <button type="submit" className="act strong">
            take in
          </button>
          <Close>leave it</Close>
        </div>
      </form>
    </Dialog>
  )
}

/** Other digits, and another standing. */
function NewPin({ person, atDoor }: { person: Person; atDoor: AtDoor }) {
  const [open, setOpen] = useState(false)
  const form = useChecked(PinForm, { pin: '' }, 'onSubmit')
  const send = form.handleSubmit(async (values) => {
    if (!(await atDoor('keeping the PIN', () => sendJson<Door>('PUT', pathOf(person, '/pin'), values)))) return
    form.reset()
    setOpen(false)
  })
  return (
    <Dialog
      open={open}
      onOpenChange={setOpen}
      title={person.name}
      trigger={
        <button type="button" className="act" aria-label={`change ${person.name}`}>
          change
        </button>
      }
    >
      <div className="my-16 grid w-480 max-w-full gap-16">
        <Choose
          label="may do"
          look="box"
          className="flex gap-8"
          value={person.role}
          choices={ROLES}
          onChange={(role) =>
            void atDoor('changing it', () => sendJson<Door>('PUT', pathOf(person, '/role'), { role }))
          }
        />
        <form className="grid gap-12" onSubmit={(e) => void send(e)}>
          <Field
            label="new PIN: whoever is signed in by the old one is out"
            look="above"
            type="password"
            inputMode="numeric"
            error={form.formState.errors.pin?.message}
            {...form.register('pin')}
          />
          <div className="flex gap-12">
            <button type="submit" className="act strong">
              keep the PIN
            </button>
            <Close>done</Close>
          </div>
        </form>
      </div>
    </Dialog>
  )
}

function Remove({ person, atDoor }: { person: Person; atDoor: AtDoor }) {
  return (
    <Dialog
      title={`take ${person.name} off?`}
      trigger={
        <button type="button" className="act" aria-label={`take ${person.name} off`}>
          take off
        </button>
      }
    >
      <p className="my-12">{person.name} signs in no more. What was entered under the name stays.</p>
      <div className="flex gap-12">
        <button
          type="button"
          className="act strong"
          onClick={() => void atDoor('taking the name off', () => sendJson<Door>('DELETE', pathOf(person)))}
        >
          take off
        </button>
        <Close>leave it</Close>
      </div>
    </Dialog>
  )
}
