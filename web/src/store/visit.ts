import { useCallback, useMemo, useSyncExternalStore } from 'react'
import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { VISIT_NOUNS, type RecordMeta, type RecordOf, type VisitFile, type VisitNoun } from '@uvula/core'
import type { Bay, Shop, VehicleCard, WriteFields, WriteNoun } from '@uvula/contract'
import { BAY_PATH, getJson } from './api.js'
import type { PendingWrite } from './database.js'
import { kept } from './kept.js'
import { baseOf, isRefusedCommand, outbox, type OutboxState } from './outbox.js'
import { technician } from './settings.js'
import { undoStack } from './undo.js'
import { shopNow, shopTimeOf } from './clock.js'

export const useOutbox = (): OutboxState => useSyncExternalStore(outbox.subscribe, outbox.snapshot)

/** What the server took while an answer was on its way, for each answer that still is. */
const underWay = new Set<[PendingWrite, RecordMeta][]>()

/** An answer with what the server took while it was on its way: it may have been put together before. */
async function askAround<T>(path: string, layIn: (answer: T, into: (f: VisitFile) => VisitFile) => T): Promise<T> {
  const taken: [PendingWrite, RecordMeta][] = []
  underWay.add(taken)
  try {
    const answer = await getJson<T>(path)
    return taken.length
      ? layIn(answer, (f) => taken.reduce((g, [w, r]) => put(g, w.noun, r, w.visitId, true), f))
      : answer
  } finally {
    underWay.delete(taken)
  }
}

const bayQuery = {
  queryKey: ['bay'],
  queryFn: () => askAround<Bay>(BAY_PATH, (b, into) => ({ ...b, rows: b.rows.map(into) })),
}

/** Asks for the bay before anything is drawn: it is on its way while the screen is still being put together. */
export const askForBay = (client: QueryClient): Promise<void> => client.prefetchQuery(bayQuery)

/** The bay as it is, with what is still on its way. */
export function useBay(): { bay: Bay | undefined; error: Error | null } {
  const { data, error } = useQuery(bayQuery)
  const { writes } = useOutbox()
  const bay = useMemo(() => data && { ...data, rows: data.rows.map((f) => overlay(f, writes)) }, [data, writes])
  return { bay, error }
}

/** The shop of the bay: what a delivered entry does to the cars draws nothing of it anew. */
export const useShop = (): Shop | undefined => useQuery({ ...bayQuery, select: (bay) => bay.shop }).data

/** One visit, with what is still on its way laid over it. */
export function useVisitFile(id: string): { file: VisitFile | undefined; error: Error | null } {
  const { data, error } = useQuery({
    queryKey: ['visit', id],
    queryFn: () => askAround<VisitFile>(visitPath(id), (f, into) => into(f)),
    refetchInterval: 15_000,
  })
  const { writes } = useOutbox()
  const file = useMemo(() => data && overlay(data, writes), [data, writes])
  return { file, error }
}

/** A visit that begins here is shown before the server has heard of it, after a reload too. */
export async function seedVisit(client: QueryClient, file: VisitFile): Promise<void> {
  client.setQueryData(['visit', file.visit.id], file)
  await kept.persistQueryByKey(['visit', file.visit.id], client)
}

const visitPath = (id: string): string => `/api/visits/${encodeURIComponent(id)}`

export function useCard(vehicleId: string): { card: VehicleCard | undefined; error: Error | null } {
  const { data, error } = useQuery({
    queryKey: ['card', vehicleId],
    queryFn: () => getJson<VehicleCard>(`/api/vehicles/${encodeURIComponent(vehicleId)}/card`),
  })
  return { card: data, error }
}

const isList = (noun: WriteNoun): noun is VisitNoun => (VISIT_NOUNS as readonly string[]).includes(noun)

/**
 * A visit as it will be when everything waiting has arrived. A fact that the server cannot take stays where it was
 * entered, with the reason, until a person decides.
 */
export function overlay(file: VisitFile, writes: readonly PendingWrite[]): VisitFile {
  let out = file
  for (const w of writes) {
    if (isRefusedCommand(w)) continue
    const record = {
      ...w.data,
      ...w.local,
      id: w.id,
      by: w.by,
      at: w.at,
      version: w.baseVersion + 1,
      ...(w.state === 'refused' ? { refused: w.problem } : {}),
    } as unknown as RecordMeta
    out = put(out, w.noun, record, w.visitId, false)
  }
  return out
}

/** A visit with one record put in; another visit's record changes nothing. */
function put(
  file: VisitFile,
  noun: WriteNoun,
  record: RecordMeta,
  visitId: string | undefined,
  received: boolean,
): VisitFile {
  const older = (held: RecordMeta): boolean => received && held.version > record.version
  // an answer of the server is the whole record: what it leaves out is empty
  const upon = <T extends RecordMeta>(held: T): T => ({ ...(received ? {} : held), ...record }) as T
  if (noun === 'vehicles')
    return record.id !== file.vehicle.id || older(file.vehicle) ? file : { ...file, vehicle: upon(file.vehicle) }
  if (noun === 'visits')
    return record.id !== file.visit.id || older(file.visit) ? file : { ...file, visit: upon(file.visit) }
  if (visitId !== file.visit.id || !isList(noun)) return file
  const list = file[noun] as readonly RecordMeta[]
  const old = list.find((x) => x.id === record.id)
  if (old && older(old)) return file
  // a recording's points come back with the server's answer; until then what was read here stands
  const merged = { ...(received ? {} : old), ...record }
  return { ...file, [noun]: old ? list.map((x) => (x.id === record.id ? merged : x)) : [...list, merged] }
}

/** A list with one record in it as the server took it; one that was taken off is gone. */
const putIn = <T extends RecordMeta>(list: readonly T[], record: T): readonly T[] => [
  ...list.filter((x) => x.id !== record.id),
  ...(record.deleted ? [] : [record]),
]

/** Lays delivered records into what is shown, so that nothing flickers between outbox and answer. */
export function connectOutbox(client: QueryClient): void {
  outbox.onDelivered((w, record) => {
    for (const taken of underWay) taken.push([w, record as RecordMeta])
    const into = (f: VisitFile): VisitFile => put(f, w.noun, record as RecordMeta, w.visitId, true)
    if (w.visitId) {
      client.setQueryData<VisitFile>(['visit', w.visitId], (f) => f && into(f))
      void kept.persistQueryByKey(['visit', w.visitId], client)
    }
    client.setQueriesData<VisitFile>(
      { queryKey: ['visit'] },
      (f) => f && (w.noun === 'vehicles' || w.noun === 'visits' ? into(f) : f),
    )
    client.setQueryData<Bay>(['bay'], (b) => b && { ...b, rows: b.rows.map(into) })
    if (w.noun === 'reports' && w.visitId) void client.invalidateQueries({ queryKey: ['visit', w.visitId] })
    if (w.noun === 'procedures') {
      client.setQueryData<readonly RecordMeta[]>(['procedures'], (list) => list && putIn(list, record as RecordMeta))
      void client.invalidateQueries({ queryKey: ['procedures'] })
    }
    if (w.noun === 'fills') {
      const into = (fills: VehicleCard['fills']): VehicleCard['fills'] =>
        putIn(fills, record as VehicleCard['fills'][number])
      client.setQueriesData<VehicleCard>({ queryKey: ['card'] }, (card) => card && { ...card, fills: into(card.fills) })
      void client.invalidateQueries({ queryKey: ['card'] })
    }
    if (w.noun === 'vehicles') void client.invalidateQueries({ queryKey: ['card'] })
    if (w.noun === 'visits' || w.noun === 'vehicles') void client.invalidateQueries({ queryKey: ['bay'] })
  })
}

const META = [
  'id',
  'version',
  'by',
  'at',
  'receivedAt',
  'againstRule',
  'refused',
  'sha256',
  'bytes',
  'rows',
  'points',
  'warnings',
  'closedThrottlePct',
  'columns',
] as const

/** A record without what the server or the outbox adds. */
export function ownFields<T extends object>(record: T): Omit<T, (typeof META)[number]> {
  const out: Partial<Record<(typeof META)[number], unknown>> = { ...record }
  for (const k of META) delete out[k]
  return out as Omit<T, (typeof META)[number]>
}

/** Records of a noun that a visit shows; one of another visit's nouns shows none. */
function recordsOf<N extends WriteNoun>(file: VisitFile | undefined, noun: N): readonly RecordOf[N][] {
  if (!file) return []
  return (isList(noun) ? file[noun] : [file.vehicle, file.visit]) as readonly RecordOf[N][]
}

/** The same record once more, as it stood or taken off. */
const again = <N extends WriteNoun>(record: RecordOf[N], part: { readonly deleted?: true } = {}): WriteFields<N> =>
  ({ ...ownFields(record), ...part }) as unknown as WriteFields<N>

/** What else is known of an entry. */
interface WriteMore {
  readonly eventTime?: number
  readonly local?: Readonly<Record<string, unknown>>
  readonly seen?: number
  /** A file that goes with it, in pieces. */
  readonly file?: Uint8Array
}

/** Writes records of one visit; each write can be undone. */
export function useWriter(file: VisitFile | undefined): {
  /** @param more.seen - version that stood on the screen when the entry was begun; left out, it is the one that stands there now */
  write: <N extends WriteNoun>(noun: N, id: string, data: WriteFields<N>, more?: WriteMore) => void
  remove: (noun: VisitNoun, id: string) => void
} {
  const client = useQueryClient()
  const write = useCallback(
    <N extends WriteNoun>(noun: N, id: string, data: WriteFields<N>, more: WriteMore = {}): void => {
      const now =
        file && overlay(client.getQueryData<VisitFile>(['visit', file.visit.id]) ?? file, outbox.snapshot().writes)
      const before = recordsOf(now, noun).find((x) => x.id === id)
      const at = new Date(more.eventTime === undefined ? shopNow() : shopTimeOf(more.eventTime)).toISOString()
      const version = before?.version ?? 0
      // what came while it was typed was not seen, unless it is this page's own
      const saw = more.seen === undefined || outbox.versionHere(noun, id) === version ? version : more.seen
      const upon = baseOf(outbox.snapshot().writes, noun, id, saw)
      const base = { noun, id, visitId: file?.visit.id, by: technician(), at, ...upon }
      undoStack.push(file?.visit.id, { noun, id, data: before ? again<N>(before) : { ...data, deleted: true } })
      void outbox.add({ ...base, data, local: more.local }, more.file)
    },
    [client, file],
  )
  const remove = useCallback(
    (noun: VisitNoun, id: string): void => {
      const record = recordsOf(file, noun).find((x) => x.id === id)
      if (record) write(noun, id, again<typeof noun>(record, { deleted: true }))
    },
    [file, write],
  )
  return { write, remove }
}
