import { carriedOver, checkFeedRequest, planFeed, type EarlierFeed } from '@uvula/core'
import { CommandError, eachCase, readJson, readVehicle, type BatchLine } from './files.js'

/** Paths of one feed. */
export interface FeedPaths {
  readonly vehicle: string
  readonly request: string
  readonly history?: string
}

/** What went in before, and the moment that is asked about. */
interface History {
  readonly nowMs: number
  readonly earlier: readonly EarlierFeed[]
}

function readHistory(path: string): History {
  const raw = readJson(path) as { now?: unknown; attempts?: Record<string, unknown>[] }
  const bad = (field: string, value: unknown, accepted: string): never => {
    throw new CommandError(
      'history-not-valid',
      `${path}: ${field} is ${JSON.stringify(value) ?? 'missing'}, accepted: ${accepted}.`,
    )
  }
  const moment = (field: string, value: unknown): number => {
    const ms = typeof value === 'string' ? Date.parse(value) : NaN
    return Number.isNaN(ms) ? bad(field, value, 'a time as 2026-01-31T09:00:00Z') : ms
  }
  const amount = (field: string, value: unknown): number =>
    typeof value === 'number' && value >= 0 && value <= 5000 ? value : bad(field, value, '0 to 5000 mL')
  if (!Array.isArray(raw.attempts)) bad('attempts', raw.attempts, 'a list')
  return {
    nowMs: moment('now', raw.now),
    earlier: raw.attempts!.map((a, i) => ({
      endMs: moment(`attempts[${i}].endedAt`, a.endedAt),
      fedMl: amount(`attempts[${i}].fedMl`, a.fedMl),
      filmMl: a.filmMl === undefined ? undefined : amount(`attempts[${i}].filmMl`, a.filmMl),
      coolantC: typeof a.coolantC === 'number' ? a.coolantC : 90,
      // what nobody says is taken as the worse
      stood: a.engineStood !== false,
      looked: a.poolsLooked === true,
    })),
  }
}

/** Plan of one feed in the open format, or its refusals. @throws CommandError naming every field that is wrong */
export function planFeedFiles(paths: FeedPaths): object {
  const vehicle = readVehicle(paths.vehicle)
  const checked = checkFeedRequest(readJson(paths.request), vehicle)
  if (!checked.ok)
    throw new CommandError(
      'request-not-valid',
      `${paths.request}: ${checked.problems.map((p) => `${p.field} is ${JSON.stringify(p.value) ?? 'missing'}, accepted: ${p.accepted}`).join('; ')}.`,
    )
  const history = paths.history === undefined ? undefined : readHistory(paths.history)
  const before = history ? carriedOver(history.earlier, history.nowMs) : { alreadyMl: 0, filmStartMl: 0 }
  const result = planFeed({ ...checked.value, ...before })
  if (result.ok) return { ok: true, before, plan: result.plan }
  return {
    ok: false,
    before,
    refusals: result.refusals.map(({ rule, message, limit, value }) => ({
      code: rule,
      limit: limit ?? null,
      value: value ?? null,
      message,
    })),
  }
}

/** Every case of a folder, one result a line. */
export const planFeedBatch = (dir: string): Generator<BatchLine> =>
  eachCase(dir, ['vehicle.json', 'request.json'], (c) =>
    planFeedFiles({
      vehicle: c.path('vehicle.json'),
      request: c.path('request.json'),
      history: c.maybe('history.json'),
    }),
  )
