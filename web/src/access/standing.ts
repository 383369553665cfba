import type { Standing } from '@uvula/contract'
import { getJson } from '../store/api.js'

/** Who is signed in on this page, asked each time: what stood last time is not what stands now. */
export const STANDING = {
  queryKey: ['standing'],
  queryFn: () => getJson<Standing>('/api/access'),
  persister: undefined,
  staleTime: 0,
} as const
