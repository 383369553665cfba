import type { Problem } from '@uvula/contract'
import { database } from './database.js'

/** A request that the server answered with a problem. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** The server cannot be reached. */
export class Unreachable extends Error {}

async function send(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch {
    throw new Unreachable('The server does not answer.')
  }
  if (response.ok) return response
  const problem = (await response.json().catch(() => undefined)) as Problem | undefined
  if (!problem || response.status >= 500)
    throw problem ? new ApiProblem(problem) : new Unreachable('The server does not answer.')
  throw new ApiProblem(problem)
}

/** Reads JSON; when the server is away, the last seen copy of it. @throws ApiProblem, Unreachable when there is none */
export async function getJson<T>(path: string): Promise<T> {
  try {
    const value = (await (await send(path)).json()) as T
    void database().then((db) => db.put('cache', value, path))
    return value
  } catch (e) {
    // not here yet may mean still in the outbox: then the copy it was begun with stands
    const absent = e instanceof ApiProblem && e.problem.status === 404
    if (!(e instanceof Unreachable) && !absent) throw e
    const kept = await (await database()).get('cache', path)
    if (kept === undefined) throw e
    return kept as T
  }
}

/** Writes JSON under a key. @throws ApiProblem, Unreachable */
export async function putJson<T>(path: string, body: unknown, key: string): Promise<T> {
  const response = await send(path, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': key },
    body: JSON.stringify(body),
  })
  return (await response.json()) as T
}

export async function postJson<T>(path: string, body: unknown): Promise<T> {
  const response = await send(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  return (await response.json()) as T
}
