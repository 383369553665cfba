import { notifyManager, type Query, type QueryFunctionContext, type QueryKey } from '@tanstack/react-query'
import { experimental_createQueryPersister, type PersistedQuery } from '@tanstack/react-query-persist-client'
import { database } from './database.js'

/** Kept so long [ms]: a tablet that was away for a season begins anew. */
const KEPT_MS = 90 * 86_400_000

/**
 * The last seen answer of every question, in the browser's own storage: shown at once after a reload, and when the server
 * is away. Counted up when what a visit is made of changes so that an older answer cannot be drawn.
 */
export const kept = experimental_createQueryPersister<PersistedQuery>({
  storage: {
    getItem: async (key) => (await database()).get('queries', key),
    setItem: async (key, value) => (await database()).put('queries', value, key),
    removeItem: async (key) => (await database()).delete('queries', key),
    entries: async () => {
      const db = await database()
      const keys = await db.getAllKeys('queries')
      return Promise.all(keys.map(async (k): Promise<[string, PersistedQuery]> => [k, (await db.get('queries', k))!]))
    },
  },
  // kept as they are, not as text
  serialize: (query) => query,
  deserialize: (query) => query,
  prefix: 'seen',
  buster: '2',
  maxAge: KEPT_MS,
})

/** What the server was asked before what was seen last was shown: the answer is on its way. */
const underWay = new WeakMap<Query, Promise<unknown>>()

/**
 * How a question is answered: the server and the browser's storage are asked together. What was seen last is shown where it
 * comes first, until the server answers; a server that is away leaves it. The package's own way asks the server only once
 * the storage is open, which takes a while, and would leave a rejection that nobody takes.
 */
export async function answered<T, K extends QueryKey>(
  ask: (context: QueryFunctionContext<K>) => T | Promise<T>,
  context: QueryFunctionContext<K>,
  query: Query,
): Promise<T> {
  const asked = (underWay.get(query) as Promise<T> | undefined) ?? Promise.resolve(ask(context))
  underWay.delete(query)
  if (query.state.data === undefined) {
    let overtaken = false
    const seen = kept.retrieveQuery<T>(query.queryHash, ({ state }) => {
      if (overtaken) return
      underWay.set(query, asked)
      query.setState({ dataUpdatedAt: state.dataUpdatedAt })
      void query
        .fetch()
        .catch(() => undefined)
        .finally(() => underWay.delete(query))
    })
    const fresh = asked.then((data) => ({ data, seen: false }))
    const old = seen.then((data) => (data === undefined ? fresh : { data, seen: true }))
    const first = await Promise.any([fresh, old]).catch(() => undefined)
    if (first?.seen) return first.data
    overtaken = true
  }
  const answer = await asked
  // once the answer stands in the query
  notifyManager.schedule(() => void kept.persistQuery(query))
  return answer
}
