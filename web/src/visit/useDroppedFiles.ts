import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { vehicleAtPlace, type ColumnGuess, type Mapping, type VisitFile } from '@uvula/core'
import { MAX_FILE_BYTES } from '@uvula/contract'
import { newId } from '../store/database.js'
import { useWriter } from '../store/visit.js'
import { reader, warmReader, type Reader } from '../workers/heart.js'
import { rememberedMapping } from './mappings.js'

/** How long good news stands [ms]. */
const GOOD_NEWS_MS = 6000

/** So long after a visit was opened a worker is made ready for its first file [ms]: by then the visit is drawn and weighed. */
const WARM_AFTER_MS = 4000

/** A file that is being read: how far, and what stops it. */
interface Reading {
  readonly name: string
  readonly share: number
  readonly by: Reader
}

/** A file that was read and waits for a word: on which side of the work the engine ran. */
interface SideAsked {
  readonly name: string
  readonly keep: (round: number) => void
}

/** A file whose columns nobody can tell but a person. */
interface ColumnsAsked {
  readonly file: File
  readonly columns: readonly ColumnGuess[]
  readonly why: string
}

/** Reads dropped files one by one, asks what only a person knows, and keeps them in the visit. @param round - that is filled now */
export function useDroppedFiles(
  file: VisitFile,
  round: number,
): {
  readonly read: (f: File, mapping?: Mapping) => Promise<void>
  readonly reading: Reading | undefined
  readonly stop: () => void
  readonly message: string | undefined
  readonly closeMessage: () => void
  readonly side: SideAsked | undefined
  readonly sideDone: () => void
  readonly asking: ColumnsAsked | undefined
  readonly askingDone: () => void
} {
  const client = useQueryClient()
  const { write } = useWriter(file)
  const [message, setMessage] = useState<string>()
  const [reading, setReading] = useState<Reading>()
  const [sides, setSides] = useState<readonly SideAsked[]>([])
  const [asking, setAsking] = useState<ColumnsAsked>()
  useEffect(() => {
    const timer = setTimeout(warmReader, WARM_AFTER_MS)
    return () => clearTimeout(timer)
  }, [])

  const good = (text: string): void => {
    setMessage(text)
    // good news goes by itself; a refusal stays until it is read
    setTimeout(() => setMessage((now) => (now === text ? undefined : now)), GOOD_NEWS_MS)
  }

  const read = async (f: File, mapping?: Mapping): Promise<void> => {
    if (f.size > MAX_FILE_BYTES)
      return setMessage(
        `${f.name} has ${(f.size / 1048576).toFixed(0)} MB; ${MAX_FILE_BYTES / 1048576} MB are taken. Export fewer channels or a shorter drive.`,
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
        used = await rememberedMapping(client, result.columns)
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
      const found = `${f.name}: ${result.rows} rows, ${result.points.length} operating ${result.points.length === 1 ? 'point' : 'points'} found.`
      const keep = (into: number): void => {
        write(
          'recordings',
          `${file.visit.id}:rec:${newId()}`,
          { visitId: file.visit.id, round: into, name: f.name, ...(used ? { mapping: used } : {}) },
          { local, file: bytes },
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
  return {
    read,
    reading,
    stop: () => {
      reading?.by.stop()
      setReading(undefined)
    },
    message,
    closeMessage: () => setMessage(undefined),
    side: sides.at(0),
    sideDone: () => setSides((waiting) => waiting.slice(1)),
    asking,
    askingDone: () => setAsking(undefined),
  }
}
