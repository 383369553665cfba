import { useState } from 'react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { OpenDoorForm, type Door } from '@uvula/contract'
import { Field } from '../kit/Field.js'
import { useChecked } from '../kit/useChecked.js'
import { Working } from '../kit/Working.js'
import { getJson, postJson, sendJson, wordsOf } from '../store/api.js'
import type { AtDoor } from './atDoor.js'
import { LetIn } from './LetIn.js'
import { People } from './People.js'
import { Tablets } from './Tablets.js'
import { OWNER_MAY } from './words.js'

const KEY = ['door']

/** Tablets over the shop's own network: open or shut, who may come in, which tablets were let in. */
export function Network() {
  const client = useQueryClient()
  const { data: door, error } = useQuery({
    queryKey: KEY,
    queryFn: () => getJson<Door>('/api/access/door'),
    persister: undefined,
  })
  const [busy, setBusy] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const atDoor: AtDoor = async (what, ask) => {
    setBusy(what)
    setProblem(undefined)
    try {
      client.setQueryData(KEY, await ask())
      return true
    } catch (e) {
      setProblem(wordsOf(e))
      return false
    } finally {
      setBusy(undefined)
    }
  }
  return (
    <section className="mb-24 grid content-start gap-12" aria-label="tablets on the shop’s network">
      <h2 className="text-small text-soft">tablets on the shop’s network</h2>
      {door ? (
        <>
          {door.ready ? <Swing door={door} atDoor={atDoor} /> : <First atDoor={atDoor} />}
          {door.problem && <p className="wrong">{door.problem}</p>}
          {door.ready && (
            <>
              <People people={door.people} atDoor={atDoor} />
              <Tablets tablets={door.tablets} atDoor={atDoor} />
            </>
          )}
        </>
      ) : error ? (
        <p className="wrong">{wordsOf(error)}</p>
      ) : (
        <p role="status">Asking who may come in</p>
      )}
      {busy && <Working label={busy} />}
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
    </section>
  )
}

/** Where tablets find the shop, and the way to shut it. */
function Swing({ door, atDoor }: { door: Door; atDoor: AtDoor }) {
  const swing = (open: boolean): void =>
    void atDoor(open ? 'opening' : 'shutting', () => sendJson<Door>('PUT', '/api/access/door', { open }))
  if (!door.open)
    return (
      <>
        <p>Shut: only this computer works in the shop.</p>
        <button type="button" className="act strong justify-self-start" onClick={() => swing(true)}>
          open it to the network
        </button>
      </>
    )
  return (
    <>
      <p>
        Open at <b className="break-all">{door.addresses[0]}</b>
        {door.plain && '; without encryption: whoever listens to this network reads along'}
      </p>
      <div className="flex flex-wrap gap-12">
        <LetIn door={door} />
        <button type="button" className="act" onClick={() => swing(false)}>
          shut it
        </button>
      </div>
    </>
  )
}

/** The first time: what lets tablets in, and an owner. */
function First({ atDoor }: { atDoor: AtDoor }) {
  const form = useChecked(OpenDoorForm, { passphrase: '', name: '', pin: '' }, 'onSubmit')
  const { errors } = form.formState
  const send = form.handleSubmit((values) =>
    atDoor('making the shop’s certificate and opening', () => postJson<Door>('/api/access/door/first', values)),
  )
  return (
    <form className="grid gap-12" onSubmit={(e) => void send(e)}>
      <p>
        Only this computer works in the shop. Opened to its network, tablets work in it too: encrypted, each let in
        once, and whoever takes one up signs in with a PIN. {OWNER_MAY}
      </p>
      <Field
        label="passphrase that lets tablets in"
        look="above"
        type="password"
        error={errors.passphrase?.message}
        {...form.register('passphrase')}
      />
      <Field label="first owner" look="above" error={errors.name?.message} {...form.register('name')} />
      <Field
        label="PIN of the owner"
        look="above"
        type="password"
        inputMode="numeric"
        error={errors.pin?.message}
        {...form.register('pin')}
      />
      <button type="submit" className="act strong justify-self-start">
        open the shop to its network
      </button>
    </form>
  )
}
