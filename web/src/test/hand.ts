import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { VisitFile } from '@uvula/core'
import { outbox } from '../store/outbox.js'
import type { Asked, PlayedServer } from './browser.js'

/** A server that keeps whatever it is sent, as the real one answers; it is asked for nothing. */
export async function keepsAll(server: PlayedServer): Promise<void> {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  server.answer = (a: Asked) =>
    a.method === 'GET'
      ? 'away'
      : { status: 200, body: { ...a.body, id: decodeURIComponent(a.path.split('/').at(-1)!), version: 2 } }
}

/** Taps a button by its words. */
export const tap = (name: string | RegExp): void => void fireEvent.click(screen.getByRole('button', { name }))

/** Whether a button can be tapped. */
export const may = (name: string | RegExp): boolean => !screen.getByRole<HTMLButtonElement>('button', { name }).disabled

/** Types into a field and leaves it. */
export function say(name: string | RegExp, text: string): void {
  const field = screen.getByRole('textbox', { name })
  fireEvent.change(field, { target: { value: text } })
  fireEvent.blur(field)
}

/** What was written to a noun so far, oldest first, once there is that much of it. */
export async function written(
  server: PlayedServer,
  noun: keyof VisitFile | 'visits' | 'vehicles',
  count = 1,
): Promise<Record<string, unknown>[]> {
  const of = (): Record<string, unknown>[] =>
    server.writes.filter((w) => w.path.startsWith(`/api/${noun}/`)).map((w) => w.body)
  await waitFor(() => {
    if (of().length < count) throw new Error(`${of().length} of ${count} written to ${noun}`)
  })
  return of()
}
