import type { NowAct } from '@uvula/core'
import { CODES_PART } from './partInView.js'

/** Bench of a stage that an act leads to, where the stage has several. */
const VIEW_OF: Readonly<Partial<Record<NowAct['id'], string>>> = {
  balance: 'throttles',
  cylinders: 'cylinders',
}

/** Part of a stage that an act is done at, where the stage is longer than a screen. */
const PART_OF: Readonly<Partial<Record<NowAct['id'], string>>> = { 'read-codes': CODES_PART, 'clear-codes': CODES_PART }

/** What names a station in the address of a stage that shows one at a time. */
const NAMED_BY: Readonly<Partial<Record<NowAct['stage'], string>>> = { trace: 'at', clean: 'of' }

/** Address of the bench where the next act is done: its stage, and there the view, the station and the test. */
export function nowLink(visitId: string, { id, stage, where }: NowAct): string {
  const view = where === 'places' ? 'place' : VIEW_OF[id]
  const named = NAMED_BY[stage]
  const q = new URLSearchParams({
    ...(view ? { view } : {}),
    ...(named && where && where !== 'places'
      ? { [named]: where.station, ...(where.test ? { test: where.test } : {}) }
      : {}),
  }).toString()
  const part = PART_OF[id]
  return `/visit/${encodeURIComponent(visitId)}/${stage}${q && `?${q}`}${part ? `#${part}` : ''}`
}
