import type { RunLeader, RunRecord } from '@uvula/core'
import { newId } from '../store/database.js'
import { technician } from '../store/settings.js'
import { ownFields } from '../store/visit.js'

const KEY = 'uvula-page'

/** This page's own name for itself; it keeps it when it is loaded anew. */
export function pageId(): string {
  const known = sessionStorage.getItem(KEY) ?? newId()
  sessionStorage.setItem(KEY, known)
  return known
}

/** This page, with whoever works at it, as the leader of a run. */
export const meLeading = (): RunLeader => ({ page: pageId(), by: technician() })

/** Whether a run is in the hand of this page; of another one, whose it is. */
export const leadOf = (run: RunRecord): { readonly leads: boolean; readonly other?: string } =>
  run.leader?.page === pageId() ? { leads: true } : { leads: false, ...(run.leader ? { other: run.leader.by } : {}) }

/** A run's own fields without its leader: what is told of it changes nothing of whose hand it is in. */
export function toldFields(run: RunRecord): Omit<ReturnType<typeof ownFields<RunRecord>>, 'leader'> {
  const { leader: _, ...rest } = ownFields(run)
  return rest
}
