import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import { evidenceFromRecording, readRecording, fileDoubts, writeRecordingCsv } from '@uvula/core'
import { packColumns, unpackColumns } from '../recordings/columns.js'
import { sheetPdf } from '../reports/pdf.js'
import { sheetFor } from '../reports/sheet-for.js'
import type { Clerking, DroppedFile } from './clerk.js'
import { answerEach } from './question-thread.js'

const zip = promisify(gzip)

async function read({ bytes, mapping, vehicle, stretches }: DroppedFile): Promise<Clerking['recording']['answers']> {
  // packed beside, while it is read
  const packed = zip(bytes)
  const result = readRecording(bytes, { mapping })
  if (!result.ok) return { problem: result.error }
  const { recording } = result
  let evidence: ReturnType<typeof evidenceFromRecording>
  try {
    evidence = evidenceFromRecording(recording, vehicle, stretches)
  } catch (e) {
    if (e instanceof RangeError) return { stretches: e.message }
    throw e
  }
  return {
    sha256: createHash('sha256').update(bytes).digest('hex'),
    packed: await packed,
    columns: await packColumns(recording),
    rows: recording.rows,
    points: evidence.points,
    closedThrottlePct: evidence.closedThrottlePct,
    warnings: [...recording.warnings, ...fileDoubts(recording, vehicle)].map((w) => w.message),
  }
}

answerEach<Clerking>({
  recording: read,
  canonical: async (columns) => Buffer.from(writeRecordingCsv(await unpackColumns(Buffer.from(columns)))),
  sheet: ({ file, prices }) => sheetFor(file, prices),
  pdf: ({ report, shop }) => sheetPdf(report, shop),
})
