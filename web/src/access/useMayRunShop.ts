import { useQuery } from '@tanstack/react-query'
import type { Standing } from '@uvula/contract'
import { overNetwork } from '../store/access.js'
import { getJson } from '../store/api.js'

/** Whether whoever works here may change the shop itself: on its computer everybody, on a tablet an owner. */
export function useMayRunShop(): boolean {
  const { data } = useQuery({
    queryKey: ['standing'],
    queryFn: () => getJson<Standing>('/api/access'),
    persister: undefined,
    enabled: overNetwork,
  })
  return !overNetwork || data?.me?.role === 'owner'
}
