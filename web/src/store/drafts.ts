/** What stands typed in a field and is not kept yet; it outlives a reload of its tab. */
export interface Draft {
  readonly text: string
  /** Version of the reading that stood there when typing began. */
  readonly seen: number
}

const keyOf = (id: string): string => `uvula-draft:${id}`

/** The draft of a field; undefined without one, or where the browser keeps nothing. */
export function draftOf(id: string): Draft | undefined {
  try {
    const text = sessionStorage.getItem(keyOf(id))
    return text === null ? undefined : (JSON.parse(text) as Draft)
  } catch {
    return undefined
  }
}

/** Keeps a draft, or drops it once it is kept or given up. */
export function keepDraft(id: string, draft: Draft | undefined): void {
  try {
    if (draft) sessionStorage.setItem(keyOf(id), JSON.stringify(draft))
    else sessionStorage.removeItem(keyOf(id))
  } catch {
    // a browser that keeps nothing: typed figures are then kept when the field is left, as ever
  }
}
