import { ChevronLeft } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { checkOwnProcedure, PROCEDURES, type OwnProcedure, type Procedure } from '@uvula/core'
import { newId } from '../store/database.js'
import { keepProcedure, useProcedures } from '../store/shopRecords.js'
import { Delivery } from '../parts/Delivery.js'
import { Failing, Waiting } from '../parts/States.js'
import { sayDay } from '../words/format.js'
import { ProcedureEditor } from './ProcedureEditor.js'

/** A procedure file is a few kilobytes; more is none. */
const FILE_MOST = 200_000

/** The shop's own procedures, written from a maker's book, tried, and shared as files. */
export function ProceduresPage() {
  const { id } = useParams()
  const navigate = useNavigate()
  const { procedures, error } = useProcedures()
  // the page is made anew with each address: what one of ours it begins with travels in the history
  const { state } = useLocation() as { state: { readonly from?: string } | null }
  const from = PROCEDURES.find((x) => x.id === state?.from)
  const [problem, setProblem] = useState<string>()
  const file = useRef<HTMLInputElement>(null)
  const open = procedures?.find((p) => p.id === id)
  if (error && !procedures) return <Failing error={error} />
  if (!procedures) return <Waiting what="the procedures" />
  const goTo = (to: string): void => void navigate(`/procedures/${encodeURIComponent(to)}`)
  const begin = (p?: Procedure): void => {
    setProblem(undefined)
    void navigate(`/procedures/new-${newId()}`, { state: { from: p?.id } })
  }
  const take = async (given: File | undefined): Promise<void> => {
    if (!given) return
    const read = await readFile(given)
    if (typeof read === 'string') return setProblem(`${given.name}: ${read}`)
    setProblem(undefined)
    keepProcedure(read, procedures.find((p) => p.id === read.id)?.version ?? 0)
    goTo(read.id)
  }
  return (
    <div className="grid max-w-1280 grid-cols-[minmax(0,1fr)] gap-16 p-gap narrow:p-16">
      <header className="flex items-center gap-16 border-b-2 border-b-ink pb-10 narrow:flex-wrap">
        <Link to="/settings" className="grid h-tap w-tap place-items-center" aria-label="to the settings">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">Procedures of this shop</h1>
        <Delivery />
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="procedure file"
          onChange={(e) => {
            void take(e.target.files?.[0])
            e.target.value = ''
          }}
        />
        <button type="button" className="act" onClick={() => file.current?.click()}>
          take one from a file
        </button>
        <button type="button" className="act strong" onClick={() => begin()}>
          write a new one
        </button>
      </header>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      <main className="grid grid-cols-[280px_minmax(0,1fr)] gap-28 narrow:grid-cols-1">
        <nav aria-label="procedures">
          <ul>
            {procedures.map((p) => (
              <li key={p.id}>
                <Link
                  to={`/procedures/${encodeURIComponent(p.id)}`}
                  aria-current={p.id === id ? 'page' : undefined}
                  className="block border-l-4 border-l-line py-6 pl-12 leading-tight no-underline aria-[current=page]:border-l-8 aria-[current=page]:border-l-ink aria-[current=page]:font-semibold"
                >
                  {p.value.label}
                  <span className="block text-small text-soft">
                    {p.value.source}, {sayDay(p.value.sourceDate)}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          {!procedures.length && (
            <p className="text-soft">
              None yet. What the maker’s book of a car says wins over ours: write it down once, and the coach judges
              each step of it.
            </p>
          )}
          <h2 className="mt-16 text-small text-soft">begin with one of ours</h2>
          <ul>
            {PROCEDURES.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  className="min-h-tap w-full border-l-4 border-l-line pl-12 text-left"
                  onClick={() => begin(p)}
                >
                  {p.label}
                </button>
              </li>
            ))}
          </ul>
        </nav>
        {id ? (
          <ProcedureEditor
            key={id}
            id={open ? open.id : id.replace(/^new-/, 'own-')}
            kept={open}
            from={from}
            onKept={(kept) => goTo(kept)}
            onGone={() => void navigate('/procedures')}
          />
        ) : (
          <p className="max-w-640 pt-20 text-lead text-soft">
            A procedure is a few steps with their times: what is done, how long, and what ends it. Choose one, or write
            a new one.
          </p>
        )}
      </main>
    </div>
  )
}

/** A procedure out of a file, or what is wrong with it. */
async function readFile(file: File): Promise<OwnProcedure | string> {
  if (file.size > FILE_MOST) return `It has ${file.size} bytes; a procedure has at most ${FILE_MOST}.`
  let parsed: unknown
  try {
    parsed = JSON.parse(await file.text())
  } catch {
    return 'This is no JSON: a procedure file is one object that this page has saved.'
  }
  const checked = checkOwnProcedure(parsed)
  return checked.ok ? checked.value : checked.problems[0].message
}
