import { useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import type { OwnProcedure, ProcedureRecord } from '@uvula/core'
import type { WriteFields, WriteNoun } from '@uvula/contract'
import { getJson } from './api.js'
import type { PendingWrite } from './database.js'
import { baseOf, outbox } from './outbox.js'
import { technician } from './settings.js'
import { useOutbox } from './visit.js'
import { shopIso } from './clock.js'

/** Records of the shop or of a car, with what is still on its way: nothing of what was entered waits to be seen. */
export function overlayList<T extends { readonly id: string; readonly version: number }>(
  list: readonly T[],
  writes: readonly PendingWrite[],
  noun: WriteNoun,
): readonly T[] {
  let out = list
  for (const w of writes) {
    if (w.noun !== noun || w.state === 'refused') continue
    const record = { ...w.data, id: w.id, by: w.by, at: w.at, version: w.baseVersion + 1 } as unknown as T
    out = [...out.filter((x) => x.id !== w.id), ...(w.data.deleted === true ? [] : [record])]
  }
  return out
}

/** The shop's own procedures; undefined until they were asked for. */
export function useProcedures(): { procedures: readonly ProcedureRecord[] | undefined; error: Error | null } {
  const { data, error } = useQuery({
    queryKey: ['procedures'],
    queryFn: () => getJson<readonly ProcedureRecord[]>('/api/procedures'),
  })
  const { writes } = useOutbox()
  const procedures = useMemo(() => {
    const list = overlayList(data ?? [], writes, 'procedures')
    return (data ?? list.length) ? [...list].sort((a, b) => a.value.label.localeCompare(b.value.label)) : undefined
  }, [data, writes])
  return { procedures, error }
}

/** Writes a record that belongs to no visit. @param version - of the record as it was seen; 0 for a new one */
export function writeShopRecord<N extends WriteNoun>(noun: N, id: string, version: number, data: WriteFields<N>): void {
  const base = baseOf(outbox.snapshot().writes, noun, id, version)
  void outbox.add({ noun, id, by: technician(), at: shopIso(), ...base, data, visitId: undefined })
}

/** Keeps a procedure, or takes it off. */
export const keepProcedure = (value: OwnProcedure, version: number, deleted = false): void =>
  writeShopRecord('procedures', value.id, version, { value, ...(deleted ? { deleted } : {}) })
