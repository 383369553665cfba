import { PassphraseForm, type Door, type Tablet } from '@uvula/contract'
import { Field } from '../kit/Field.js'
import { useChecked } from '../kit/useChecked.js'
import { sendJson } from '../store/api.js'
import { sayDay } from '../words/format.js'
import type { AtDoor } from './atDoor.js'

/** Tablets that were let in, and what lets one in besides a code. */
export function Tablets({ tablets, atDoor }: { tablets: readonly Tablet[]; atDoor: AtDoor }) {
  const form = useChecked(PassphraseForm, { passphrase: '' }, 'onSubmit')
  const send = form.handleSubmit(async (values) => {
    if (await atDoor('keeping the passphrase', () => sendJson<Door>('PUT', '/api/access/passphrase', values)))
      form.reset()
  })
  return (
    <div className="grid gap-4">
      <h3 className="text-small text-soft">tablets that were let in</h3>
      {tablets.length ? (
        <ul>
          {tablets.map((t) => (
            <li key={t.id} className="flex min-h-tap flex-wrap items-center gap-12 border-b border-b-line py-4">
              <span className="mr-auto">
                {t.name}{' '}
                <span className="text-small text-soft">
                  let in {sayDay(t.pairedAt)}, seen {sayDay(t.seenAt)}
                </span>
              </span>
              <button
                type="button"
                className="act"
                aria-label={`forget ${t.name}`}
                onClick={() =>
                  void atDoor('forgetting the tablet', () =>
                    sendJson<Door>('DELETE', `/api/access/tablets/${encodeURIComponent(t.id)}`),
                  )
                }
              >
                forget
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <p>None yet.</p>
      )}
      <form className="flex items-end gap-12" onSubmit={(e) => void send(e)}>
        <div className="flex-1">
          <Field
            label="another passphrase; tablets that were let in stay"
            look="above"
            type="password"
            error={form.formState.errors.passphrase?.message}
            {...form.register('passphrase')}
          />
        </div>
        <button type="submit" className="act">
          keep it
        </button>
      </form>
    </div>
  )
}
