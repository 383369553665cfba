import { useRef, useState } from 'react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { BackupForm, type BackupHead, type BackupListed, type Backups as Answer } from '@uvula/contract'
import { Close, Dialog } from '../kit/Dialog.js'
import { Field } from '../kit/Field.js'
import { asNumber, useChecked } from '../kit/useChecked.js'
import { Working } from '../kit/Working.js'
import { Waiting } from '../parts/States.js'
import { ApiProblem, getJson, postFile, postJson, putJson, Unreachable, wordsOf } from '../store/api.js'
import { newId } from '../store/database.js'
import { sayDay, sayTime } from '../words/format.js'

const KEY = ['backups']
/** How long the server may take to be there again [ms]. */
const BACK_WITHIN_MS = 60_000

const sayWhen = (iso: string): string => `${sayDay(iso)} ${new Date(iso).getFullYear()}, ${sayTime(iso)}`

/** The shop's backups: taken as a file, made each night into a folder, restored. */
export function Backups() {
  const { data, error } = useQuery({ queryKey: KEY, queryFn: () => getJson<Answer>('/api/shop/backups') })
  const client = useQueryClient()
  const [busy, setBusy] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const during = async (what: string, work: () => Promise<unknown>): Promise<void> => {
    setBusy(what)
    setProblem(undefined)
    try {
      await work()
    } catch (e) {
      setProblem(wordsOf(e))
    } finally {
      setBusy(undefined)
    }
  }
  const keep = (answer: Answer): void => void client.setQueryData(KEY, answer)
  return (
    <section className="mb-24 grid content-start gap-4" aria-label="backups">
      <h2 className="text-small text-soft">backups of the shop</h2>
      {data ? (
        <>
          <Last answer={data} />
          <Where answer={data} onKept={keep} onProblem={setProblem} />
          <div className="flex flex-wrap items-center gap-12">
            <a className="act strong inline-flex items-center" href="/api/shop/backup" download>
              take one as a file
            </a>
            {data.folder && (
              <button
                type="button"
                className="act"
                disabled={busy !== undefined}
                onClick={() =>
                  void during('writing the backup', async () => keep(await postJson<Answer>('/api/shop/backups', {})))
                }
              >
                make one in the folder now
              </button>
            )}
          </div>
          <Restore
            files={data.files}
            ownShop={data.ownShop}
            boot={data.boot}
            during={during}
            disabled={busy !== undefined}
          />
        </>
      ) : error ? (
        <p className="wrong">{wordsOf(error)}</p>
      ) : (
        <Waiting what="the backups" />
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

/** When the last one went into the folder, and whether it went well. */
function Last({ answer: { folder, last, ownShop } }: { answer: Answer }) {
  if (last?.problem)
    return (
      <p className="wrong">
        The last one, {sayWhen(last.at)}, failed: {last.problem}
      </p>
    )
  const made = last && `The last one was made ${sayWhen(last.at)}${last.of === 'demo' ? ', of the demo' : ''}.`
  const next = !folder
    ? 'None is made by itself: choose a folder, best on another disk.'
    : ownShop
      ? made
        ? ''
        : 'None has been made yet: the first is made tonight.'
      : 'The demo is not backed up by itself; a shop of your own will be.'
  return <p>{[made, next].filter(Boolean).join(' ')}</p>
}

function Where({
  answer: { folder, keep },
  onKept,
  onProblem,
}: {
  answer: Answer
  onKept: (answer: Answer) => void
  onProblem: (words: string | undefined) => void
}) {
  const form = useChecked(BackupForm, { folder, keep })
  const { errors } = form.formState
  const leave = async (): Promise<void> => {
    const now = form.getValues()
    if (!(await form.trigger()) || (now.folder.trim() === folder && now.keep === keep)) return
    try {
      onKept(await putJson<Answer>('/api/shop/backups', now, newId()))
      onProblem(undefined)
    } catch (e) {
      onProblem(wordsOf(e))
    }
  }
  return (
    <form className="grid gap-4" onSubmit={(e) => e.preventDefault()}>
      <Field
        label="each night into this folder of the shop’s computer"
        look="above"
        placeholder="none"
        error={errors.folder?.message}
        {...form.register('folder', { onBlur: () => void leave() })}
      />
      <Field
        label="of them keep the last"
        inputMode="numeric"
        error={errors.keep?.message}
        {...form.register('keep', { setValueAs: asNumber('number'), onBlur: () => void leave() })}
      />
    </form>
  )
}

/** Waits for the server to come back with the restored shop, then shows it. @param boot - of the one that goes down */
async function comeBack(boot: string): Promise<void> {
  for (const until = Date.now() + BACK_WITHIN_MS; Date.now() < until;) {
    const there = await getJson<Answer>('/api/shop/backups').catch(() => undefined)
    if (there && there.boot !== boot) return window.location.assign('/')
    await new Promise((r) => setTimeout(r, 300))
  }
  throw new ApiProblem({
    type: 'uvula:not-back',
    title: 'Not back',
    status: 503,
    detail:
      'The server has not come back within a minute: look after it on its computer. What it shows then is what stands.',
  })
}

function Restore({
  files,
  ownShop,
  boot,
  during,
  disabled,
}: {
  files: readonly BackupListed[]
  /** There is a shop of one's own, which the backup takes the place of. */
  ownShop: boolean
  boot: string
  during: (what: string, work: () => Promise<unknown>) => Promise<void>
  disabled: boolean
}) {
  const input = useRef<HTMLInputElement>(null)
  const [asked, setAsked] = useState<{ readonly what: string; readonly send: () => Promise<BackupHead> }>()
  const restore = (): void => {
    const { send } = asked!
    setAsked(undefined)
    void during('checking and restoring the backup', async () => {
      // a server that goes down may take its answer with it: whether it restored is told by its coming back as another
      await send().catch((e: unknown) => {
        if (!(e instanceof Unreachable)) throw e
      })
      await comeBack(boot)
    })
  }
  return (
    <>
      <ul>
        {files.map((f) => (
          <li key={f.name} className="flex min-h-tap items-center gap-12 border-b border-b-line">
            <span className="mr-auto">
              {sayWhen(f.madeAt)}
              <span className="block text-small text-soft">
                {f.visits} {f.visits === 1 ? 'visit' : 'visits'}, {f.vehicles} {f.vehicles === 1 ? 'car' : 'cars'},{' '}
                {sayBytes(f.bytes)}
              </span>
            </span>
            <button
              type="button"
              className="act"
              disabled={disabled}
              onClick={() =>
                setAsked({
                  what: `the backup of ${sayWhen(f.madeAt)}`,
                  send: () => postJson('/api/shop/restore-listed', { name: f.name }),
                })
              }
            >
              restore
            </button>
          </li>
        ))}
      </ul>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label="backup to restore"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) setAsked({ what: file.name, send: () => postFile('/api/shop/restore', file) })
        }}
      />
      <button
        type="button"
        className="act justify-self-start"
        disabled={disabled}
        onClick={() => input.current?.click()}
      >
        restore from a file
      </button>
      <Dialog
        open={asked !== undefined}
        onOpenChange={(open) => !open && setAsked(undefined)}
        title="restore this backup?"
      >
        <p className="my-12">
          {ownShop
            ? `Your shop becomes what it was in ${asked?.what}. What was written since is not in it; its file as it is now is kept aside in the data folder.`
            : `Your shop begins with what stands in ${asked?.what}. The demo stays as it is.`}
        </p>
        <div className="flex gap-12">
          <button type="button" className="act strong" onClick={restore}>
            restore it
          </button>
          <Close>leave it</Close>
        </div>
      </Dialog>
    </>
  )
}

function sayBytes(bytes: number): string {
  return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`
}
