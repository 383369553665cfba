import type { NextFunction, Request, Response } from 'express'
import { badField } from './problem.js'

/** What any body may hold at most, whatever its noun; each noun's own bounds come after and are narrower. */
export const BODY_MOST = { list: 2000, names: 400, depth: 6 } as const

/**
 * Refuses a body that is built larger than any entry is, before a single object is made of it: a list with two million
 * rows costs minutes to make instances of, and a moment to count.
 */
export function boundBody(req: Request, _res: Response, next: NextFunction): void {
  // a piece of a file is bytes, and was bounded as such
  next(
    req.body === undefined || Buffer.isBuffer(req.body) ? undefined : (beyond(req.body as unknown, '', 0) ?? undefined),
  )
}

function beyond(value: unknown, field: string, depth: number): Error | undefined {
  if (typeof value !== 'object' || value === null) return undefined
  const name = field || 'the body'
  if (depth > BODY_MOST.depth) return badField(name, 'deeper lists', `at most ${BODY_MOST.depth} levels are taken`)
  if (Array.isArray(value)) {
    if (value.length > BODY_MOST.list)
      return badField(name, value.length, `a list of ${value.length}; at most ${BODY_MOST.list} are taken`)
    return first(value.length, (i) => beyond(value[i], `${field}${field && '.'}${i}`, depth + 1))
  }
  const names = Object.keys(value)
  if (names.length > BODY_MOST.names)
    return badField(name, names.length, `${names.length} fields; at most ${BODY_MOST.names} are taken`)
  return first(names.length, (i) =>
    beyond((value as Record<string, unknown>)[names[i]], `${field}${field && '.'}${names[i]}`, depth + 1),
  )
}

function first(n: number, check: (i: number) => Error | undefined): Error | undefined {
  for (let i = 0; i < n; i++) {
    const e = check(i)
    if (e) return e
  }
  return undefined
}
