import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { GaugesState } from '@uvula/contract'
import { getJson, postJson } from '../../store/api.js'

const KEY = ['gauges']
/** How often the figures are asked for while they run, and otherwise [ms]. */
const RUNNING_MS = 250
const IDLE_MS = 5000
/** After so long without an answer of the server nothing is a live figure any more [ms]. */
const OLD_MS = 2500

export interface Gauges {
  readonly state: GaugesState | undefined
  readonly problem: string | undefined
  /** Sends a command; what the server says to it is the new state. */
  readonly ask: (path: string, body: object) => Promise<void>
}

/** The vacuum gauges of this server, as they read now. */
export function useGauges(): Gauges {
  const client = useQueryClient()
  const [problem, setProblem] = useState<string>()
  const { data, dataUpdatedAt } = useQuery({
    queryKey: KEY,
    queryFn: () => getJson<GaugesState>('/api/gauges'),
    refetchInterval: (q) => (q.state.data && q.state.data.phase !== 'off' ? RUNNING_MS : IDLE_MS),
    // figures of another hour are no figures: they are not kept by the browser
    persister: undefined,
    staleTime: 0,
  })
  const ask = async (path: string, body: object): Promise<void> => {
    setProblem(undefined)
    try {
      client.setQueryData(KEY, await postJson<GaugesState>(`/api/gauges/${path}`, body))
    } catch (e) {
      setProblem((e as Error).message)
    }
  }
  const old = Date.now() - dataUpdatedAt > OLD_MS
  return {
    state: data && old && data.phase === 'running' ? { ...data, phase: 'lost', vacuumKpa: undefined } : data,
    problem,
    ask,
  }
}
