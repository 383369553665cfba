import { useQuery } from '@tanstack/react-query'
import { overNetwork } from '../store/access.js'
import { STANDING } from './standing.js'

/** Whether whoever works here may change the shop itself: on its computer everybody, on a tablet an owner. */
export function useMayRunShop(): boolean {
  const { data } = useQuery({ ...STANDING, enabled: overNetwork })
  return !overNetwork || data?.me?.role === 'owner'
}
