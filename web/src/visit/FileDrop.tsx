import { createContext, useContext, useState, type ReactNode } from 'react'
import { useDropzone } from 'react-dropzone'
import { remediesOf, vehicleAtPlace, type ColumnGuess, type Mapping, type VisitFile } from '@uvula/core'
import { Dialog } from '../kit/Dialog.js'
import { Said } from '../kit/Said.js'
import { Working } from '../kit/Working.js'
import { newId } from '../store/database.js'
import { useWriter } from '../store/visit.js'
import { reader, type Reader } from '../workers/heart.js'
import { ColumnsDialog, rememberedMapping } from './ColumnsDialog.js'

/** Largest recording taken [bytes]; the server's own bound. */
const MOST_BYTES = 32 * 1024 * 1024

/** How long good news stands [ms]. */
const GOOD_NEWS_MS = 6000

interface Drop {
  /** Opens the device's own choice of files. */
  readonly choose: () => void
}

/** A file that is being read: how far, and what stops it. */
interface Reading {
  readonly name: string
  readonly share: number
  readonly by: Reader
}

const DropContext = createContext<Drop | undefined>(undefined)

/** Base64 of a file, in steps that keep the page answering. */
function toBase64(file: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result).replace(/^data:[^,]*,/, ''))
    reader.onerror = () => reject(reader.error!)
    reader.readAsDataURL(file)
  })
}

/** A whole visit takes a dropped recording, wherever it falls. */
export function DropArea({ file, round, children }: { file: VisitFile; round: number; children: ReactNode }) {
  const { write } = useWriter(file)
  const [message, setMessage] = useState<string>()
  const [reading, setReading] = useState<Reading>()
  const [sides, setSides] = useState<readonly { readonly name: string; readonly keep: (round: number) => void }[]>([])
  const [asking, setAsking] = useState<{ file: File; columns: readonly ColumnGuess[]; why: string }>()

  const good = (text: string): void => {
    setMessage(text)
    // good news goes by itself; a refusal stays until it is read
    setTimeout(() => setMessage((now) => (now === text ? undefined : now)), GOOD_NEWS_MS)
  }

  const readOne = async (f: File, mapping?: Mapping): Promise<void> => {
    if (f.size > MOST_BYTES)
      return setMessage(
        `${f.name} has ${(f.size / 1048576).toFixed(0)} MB; 32 MB are taken. Export fewer channels or a shorter drive.`,
      )
    const by = reader()
    const tell = (share: number): void => setReading({ name: f.name, share, by })
    tell(0)
    setMessage(undefined)
    try {
      const bytes = new Uint8Array(await f.arrayBuffer())
      let used = mapping
      let result = await by.read(bytes, vehicleAtPlace(file), used, tell)
      if (!result.ok && result.columns.length && !used) {
        // said once for a header, it holds for the next file that has the same
        used = rememberedMapping(result.columns)
        if (used) result = await by.read(bytes, vehicleAtPlace(file), used, tell)
      }
      if (!result.ok) {
        if (result.columns.length) setAsking({ file: f, columns: result.columns, why: result.error.message })
        else setMessage(`${f.name}: ${result.error.message}`)
        return
      }
      setAsking(undefined)
      const local = {
        rows: result.rows,
        points: result.points,
        warnings: result.warnings,
        ...(result.closedThrottlePct === undefined ? {} : { closedThrottlePct: result.closedThrottlePct }),
      }
      const content = await toBase64(f)
      const found = `${f.name}: ${result.rows} rows, ${result.points.length} operating points found.`
      const keep = (into: number): void => {
        write(
          'recordings',
          `${file.visit.id}:rec:${newId()}`,
          { visitId: file.visit.id, round: into, name: f.name, content, ...(used ? { mapping: used } : {}) },
          { local },
        )
        good(found)
      }
      // something was done meanwhile: only a person knows on which side of it the engine ran
      if (round > 0) setSides((waiting) => [...waiting, { name: f.name, keep }])
      else keep(round)
    } finally {
      by.stop()
      setReading(undefined)
    }
  }
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files.forEach((f) => void readOne(f)),
    // the whole visit is the place to drop on: a tap and the keys stay what they are
    noClick: true,
    noKeyboard: true,
  })
  return (
    <DropContext.Provider value={{ choose: open }}>
      <div
        {...getRootProps({
          className: 'drop-area h-full print:block print:h-auto',
          role: undefined,
          tabIndex: undefined,
        })}
      >
        <input
          {...getInputProps({ accept: '.csv,.tsv,.txt,.log,text/csv', hidden: true, style: undefined })}
          aria-label="recordings"
          data-testid="recording-input"
        />
        {children}
        {(message ?? reading) && (
          <Said>
            {reading ? (
              <>
                <p>
                  Reading {reading.name}
                  {reading.share > 0 && `, ${Math.round(100 * reading.share)} %`}
                </p>
                <Working label={`reading ${reading.name}`} />
                <button
                  type="button"
                  className="act"
                  onClick={() => {
                    reading.by.stop()
                    setReading(undefined)
                  }}
                >
                  stop
                </button>
              </>
            ) : (
              <>
                <p>{message}</p>
                <button type="button" className="act" onClick={() => setMessage(undefined)}>
                  close
                </button>
              </>
            )}
          </Said>
        )}
        {sides.length > 0 && (
          <Dialog
            open
            onOpenChange={(open) => !open && setSides(sides.slice(1))}
            title={`When was ${sides[0].name} recorded?`}
          >
            <p>It counts with what was measured at the same time; closed without a word it is left out.</p>
            <div className="mt-12 flex flex-wrap gap-8">
              {remediesBefore(file, round).map((b) => (
                <button
                  key={b.round}
                  type="button"
                  className="act"
                  onClick={() => {
                    sides[0].keep(b.round)
                    setSides(sides.slice(1))
                  }}
                >
                  before: {b.words}
                </button>
              ))}
              <button
                type="button"
                className="act strong"
                onClick={() => {
                  sides[0].keep(round)
                  setSides(sides.slice(1))
                }}
              >
                after: {remediesOf(file).at(-1)?.words}
              </button>
            </div>
          </Dialog>
        )}
        {asking && (
          <ColumnsDialog
            key={asking.file.name + asking.why}
            name={asking.file.name}
            why={asking.why}
            columns={asking.columns}
            onRead={(m) => void readOne(asking.file, m)}
            onClose={() => setAsking(undefined)}
          />
        )}
        {isDragActive && (
          <div className="name inset-0 border-6 border-ink border-dashed fixed z-20 grid place-items-center bg-[color-mix(in_srgb,var(--color-face)_85%,transparent)] pointer-events-none">
            Drop the recording anywhere
          </div>
        )}
      </div>
    </DropContext.Provider>
  )
}

/** Rounds that a remedy has closed, each with the first that did. */
const remediesBefore = (file: VisitFile, round: number): { readonly round: number; readonly words: string }[] =>
  Array.from({ length: round }, (_, r) => ({
    round: r,
    words: remediesOf(file).find((x) => x.afterRound === r)?.words,
  })).flatMap(({ round: r, words }) => (words === undefined ? [] : [{ round: r, words }]))

/** The button for those who do not drag. */
export function FileDrop() {
  const drop = useContext(DropContext)
  return (
    <button type="button" className="act" onClick={() => drop?.choose()}>
      take a recording
    </button>
  )
}
