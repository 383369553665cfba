import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { getJson, postJson } from '../../store/api.js'

/** How often the figures are asked for while they run, and otherwise [ms]. */
const RUNNING_MS = 250
const IDLE_MS = 5000
/** After so long without an answer of the server nothing is a live figure any more [ms]. */
const OLD_MS = 2500

export interface Device<T> {
  readonly state: T | undefined
  readonly problem: string | undefined
  /** Sends a command; what the server says to it is the new state. */
  readonly ask: (path: string, body: object) => Promise<void>
}

/**
 * A device of this server, as it reads now.
 * @param silent - the state without its live figure, for when the server has not answered for a while
 */
export function useDevice<T extends { readonly phase: string }>(name: string, silent: (state: T) => T): Device<T> {
  const client = useQueryClient()
  const key = [name]
  const [problem, setProblem] = useState<string>()
  const { data, dataUpdatedAt } = useQuery({
    queryKey: key,
    queryFn: () => getJson<T>(`/api/${name}`),
    refetchInterval: (q) => (q.state.data && q.state.data.phase !== 'off' ? RUNNING_MS : IDLE_MS),
    // figures of another hour are no figures: they are not kept by the browser
    persister: undefined,
    staleTime: 0,
  })
  const ask = async (path: string, body: object): Promise<void> => {
    setProblem(undefined)
    try {
      client.setQueryData(key, await postJson<T>(`/api/${name}/${path}`, body))
    } catch (e) {
      setProblem((e as Error).message)
    }
  }
  const old = Date.now() - dataUpdatedAt > OLD_MS
  return { state: data && old && data.phase === 'running' ? silent(data) : data, problem, ask }
}
