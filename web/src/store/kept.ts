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

/**
 * How a question is answered: first as it was seen last, then by the server. A server that is away leaves what was seen;
 * the package's own way would leave a rejection that nobody takes.
 */
export async function answered<T, K extends QueryKey>(
  ask: (context: QueryFunctionContext<K>) => T | Promise<T>,
  context: QueryFunctionContext<K>,
  query: Query,
): Promise<T> {
  if (query.state.data === undefined) {
    const seen = await kept.retrieveQuery<T>(query.queryHash, ({ state }) => {
      query.setState({ dataUpdatedAt: state.dataUpdatedAt })
      query.fetch().catch(() => undefined)
    })
    if (seen !== undefined) return seen
  }
  const answer = await ask(context)
  // once the answer stands in the query
  notifyManager.schedule(() => void kept.persistQuery(query))
  return answer
}
