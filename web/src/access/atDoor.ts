import type { Door } from '@uvula/contract'

/**
 * Does something at the door; what came of it is shown, and why it did not go.
 * @param what - said while it is under way @returns whether it went
 */
export type AtDoor = (what: string, ask: () => Promise<Door>) => Promise<boolean>
