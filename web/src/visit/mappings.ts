import type { QueryClient } from '@tanstack/react-query'
import type { ColumnGuess, Mapping } from '@uvula/core'
import { getJson } from '../store/api.js'

const KEY = 'uvula-mappings'
const headerKey = (columns: readonly ColumnGuess[]): string => columns.map((c) => c.label).join('|')

function ownMappings(): Record<string, Mapping> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, Mapping>
  } catch {
    return {}
  }
}

/** What the shop's recordings say of their columns; none where the server is away and none was seen before. */
const shopMappings = (client: QueryClient): Promise<readonly Mapping[]> =>
  client
    .fetchQuery({
      queryKey: ['mappings'],
      queryFn: () => getJson<readonly Mapping[]>('/api/recordings/mappings'),
      staleTime: 0,
      retry: false,
    })
    .catch(() => [])

/** What was said before about a header with the same labels: on this tablet, else anywhere in the shop. */
export async function rememberedMapping(
  client: QueryClient,
  columns: readonly ColumnGuess[],
): Promise<Mapping | undefined> {
  const own = ownMappings()[headerKey(columns)]
  if (own) return own
  const labels = new Set(columns.map((c) => c.label))
  return (await shopMappings(client)).find((m) => {
    const named = Object.keys(m)
    return named.length === labels.size && named.every((label) => labels.has(label))
  })
}

/** Keeps what was said of a header. A browser that keeps nothing asks the shop next time. */
export function rememberMapping(columns: readonly ColumnGuess[], mapping: Mapping): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...ownMappings(), [headerKey(columns)]: mapping }))
  } catch {
    // full or shut: it is kept with the recording
  }
}
