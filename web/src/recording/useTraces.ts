import { useMemo } from 'react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { CHANNELS, withDetail, type RecordingRecord } from '@uvula/core'
import { getJson } from '../store/api.js'
import type { Trace } from './traceOption.js'

const path = (rec: string, more = ''): string =>
  `/api/recordings/${encodeURIComponent(rec)}/trace?channels=${CHANNELS.map((c) => c.id).join()}${more}`

/** A recording's columns for drawing; undefined asks for nothing. */
export const useTrace = (rec: string | undefined): { readonly data: Trace | undefined; readonly error: Error | null } =>
  useQuery({
    queryKey: ['trace', rec],
    queryFn: () => getJson<Trace>(path(rec!)),
    staleTime: Infinity,
    enabled: rec !== undefined,
  })

/**
 * The trace with every row of the time that is looked at, where the whole is thinned: what was between two drawn rows comes
 * when somebody looks there.
 * @param range - time that is shown [s]; undefined shows the whole
 * @returns waiting - rows of that time are on their way; what was shown before stands meanwhile
 */
export function useCloserLook(
  recording: Pick<RecordingRecord, 'id' | 'rows'>,
  trace: Trace,
  range: readonly [number, number] | undefined,
): { readonly shown: Trace; readonly waiting: boolean } {
  const thin = recording.rows > trace.time_s.length
  const wanted = thin && range !== undefined
  const { data: detail, isPlaceholderData } = useQuery({
    queryKey: ['trace', recording.id, range],
    queryFn: () => getJson<Trace>(path(recording.id, `&from=${range![0]}&to=${range![1]}`)),
    staleTime: Infinity,
    enabled: wanted,
    placeholderData: keepPreviousData,
    // looked at once: none of it is kept beyond this page
    persister: undefined,
    gcTime: 30_000,
  })
  const shown = useMemo(() => (wanted && detail ? withDetail(trace, detail) : trace), [wanted, detail, trace])
  return { shown, waiting: wanted && (!detail || isPlaceholderData) }
}
