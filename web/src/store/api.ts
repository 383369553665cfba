import type { Problem } from '@uvula/contract'
import { shutOut } from './access.js'
import { hearClock } from './clock.js'

/** A request that the server answered with a problem. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** Why something did not go, for whoever asked. */
export const wordsOf = (e: unknown): string => (e instanceof ApiProblem ? e.message : 'The server does not answer.')

/** Where the bay is asked for. */
export const BAY_PATH = '/api/bay'

/** The server cannot be reached. */
export class Unreachable extends Error {}

async function send(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  const sentMs = Date.now()
  try {
    response = await fetch(path, init)
  } catch {
    throw new Unreachable('The server does not answer.')
  }
  // the bay is asked for ahead of the script: its answer may be seconds older than the question here
  if (path !== BAY_PATH) hearClock(response.headers, sentMs)
  if (response.ok) return response
  const problem = (await response.json().catch(() => undefined)) as Problem | undefined
  if (!problem || response.status >= 500)
    throw problem ? new ApiProblem(problem) : new Unreachable('The server does not answer.')
  if (problem.status === 401) shutOut()
  throw new ApiProblem(problem)
}

/** Reads JSON. @throws ApiProblem, Unreachable */
export const getJson = async <T>(path: string): Promise<T> => (await (await send(path)).json()) as T

/** Writes JSON under a key. @throws ApiProblem, Unreachable */
export async function putJson<T>(path: string, body: unknown, key: string): Promise<T> {
  const response = await send(path, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': key },
    body: JSON.stringify(body),
  })
  return (await response.json()) as T
}

/** Asks for something to be done. @throws ApiProblem, Unreachable */
export async function sendJson<T>(method: 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  const response = await send(path, {
    method,
    ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  })
  return (await response.json()) as T
}

export const postJson = <T>(path: string, body: unknown): Promise<T> => sendJson('POST', path, body)

async function sendBytes<T>(method: 'POST' | 'PUT', path: string, body: Blob | Uint8Array<ArrayBuffer>): Promise<T> {
  const response = await send(path, { method, headers: { 'content-type': 'application/octet-stream' }, body })
  return (await response.json()) as T
}

/** Sends a file as it is. @throws ApiProblem, Unreachable */
export const postFile = <T>(path: string, file: Blob): Promise<T> => sendBytes('POST', path, file)

/** Sends a piece of a file. @throws ApiProblem, Unreachable */
export const putBytes = <T>(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<T> => sendBytes('PUT', path, bytes)
