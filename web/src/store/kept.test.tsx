/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import type { VisitFile } from '@uvula/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { PlayedServer, type Played } from '../test/browser.js'
import { aVisit } from '../test/visit.fixture.js'
import { database } from './database.js'
import { answered, kept } from './kept.js'
import { outbox } from './outbox.js'
import { connectOutbox, ownFields, seedVisit, useVisitFile } from './visit.js'

const server = new PlayedServer()

function Complaint() {
  const { file, error } = useVisitFile('v')
  return <p>{file?.visit.complaint ?? (error ? `none: ${error.message}` : 'waiting')}</p>
}
/** A page just loaded: nothing in memory. */
function load(): QueryClient {
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false, networkMode: 'always', persister: answered } },
  })
  connectOutbox(client)
  render(
    <QueryClientProvider client={client}>
      <Complaint />
    </QueryClientProvider>,
  )
  return client
}
const visit = (complaint: string): ReturnType<typeof aVisit> => {
  const file = aVisit()
  return { ...file, visit: { ...file.visit, complaint } }
}
const answers = (complaint: string): void => {
  server.answer = () => ({ status: 200, body: visit(complaint) })
}
const stored = async (): Promise<void> => {
  for (let i = 0; i < 1000 && (await (await database()).count('queries')) === 0; i++)
    await new Promise((r) => setTimeout(r, 5))
}
/** A page that was answered, has kept its answer, and is gone. */
async function seenBefore(): Promise<QueryClient> {
  answers('idles high')
  const client = load()
  await screen.findByText('idles high')
  await stored()
  document.body.innerHTML = ''
  return client
}

beforeEach(async () => {
  server.asked.length = 0
  await (await database()).clear('queries')
})

describe('what was seen last', () => {
  it('stands after a reload while the server is away', async () => {
    await seenBefore()
    server.answer = () => 'away'
    load()
    expect(await screen.findByText('idles high')).toBeTruthy()
  })
  it('is not overtaken by an answer that was put together before a write arrived', async () => {
    let give: (p: Played) => void = () => undefined
    server.answer = (a) =>
      a.method === 'PUT'
        ? { status: 200, body: { ...visit('stalls cold').visit, version: 2 } }
        : new Promise((r) => (give = r))
    load()
    await waitFor(() => expect(server.asked).toHaveLength(1))
    const { visit: old } = visit('idles high')
    const said = { noun: 'visits', id: old.id, visitId: old.id, by: 'R', at: old.at, baseVersion: 1 } as const
    await outbox.add({ ...said, data: { ...ownFields(old), complaint: 'stalls cold' } })
    await waitFor(() => expect(outbox.snapshot().writes).toHaveLength(0))
    give({ status: 200, body: visit('idles high') })
    expect(await screen.findByText('stalls cold')).toBeTruthy()
  })
  it('what was emptied is empty once the server has taken it', async () => {
    const file = visit('hunts')
    const measured = { ...file, visit: { ...file.visit, baroKpa: 98 } }
    const taken = { ...file.visit, version: 2 }
    server.answer = (a) => ({ status: 200, body: a.method === 'PUT' ? taken : measured })
    const client = load()
    await screen.findByText('hunts')
    const said = { noun: 'visits', id: taken.id, visitId: taken.id, by: 'R', at: taken.at, baseVersion: 1 } as const
    await outbox.add({ ...said, data: { ...ownFields(measured.visit), baroKpa: undefined } })
    await waitFor(() => expect(outbox.snapshot().writes).toHaveLength(0))
    expect(client.getQueryData<VisitFile>(['visit', 'v'])?.visit).toMatchObject({ version: 2 })
    expect(client.getQueryData<VisitFile>(['visit', 'v'])?.visit.baroKpa).toBeUndefined()
  })
  it('gives way to the newer answer as soon as there is one', async () => {
    const client = await seenBefore()
    client.clear()
    answers('idles high and whistles')
    load()
    expect(await screen.findByText('idles high and whistles')).toBeTruthy()
  })
  it('is asked of the server beside the storage, once', async () => {
    await seenBefore()
    server.asked.length = 0
    let give: (p: Played) => void = () => undefined
    server.answer = () => new Promise((r) => (give = r))
    load()
    // what was seen last stands while the server thinks
    await screen.findByText('idles high')
    give({ status: 200, body: visit('whistles') })
    await screen.findByText('whistles')
    expect(server.asked).toHaveLength(1)
  })
  it('does not hold the server’s answer up where the storage is slow', async () => {
    answers('idles high')
    const db = await database()
    const busy = db.transaction('queries', 'readwrite')
    const until = Date.now() + 2000
    let shownAt = Infinity
    const holding = (async () => {
      while (Date.now() < until && shownAt === Infinity) await busy.store.get('nothing')
    })()
    load()
    await screen.findByText('idles high', {}, { timeout: 5000 })
    shownAt = Date.now()
    expect(shownAt).toBeLessThan(until)
    await holding
  })
  it('without a copy the failing page says why', async () => {
    server.answer = () => 'away'
    load()
    expect(await screen.findByText('none: The server does not answer.')).toBeTruthy()
  })
  it('a visit that begins here is there after a reload, though the server has not heard of it', async () => {
    server.answer = () => ({
      status: 404,
      body: { title: 'not found', status: 404, detail: 'There is no such visit.' },
    })
    await seedVisit(new QueryClient(), visit('begun on the tablet'))
    load()
    expect(await screen.findByText('begun on the tablet')).toBeTruthy()
  })
  it('an answer of another time of the product is thrown away, not drawn', async () => {
    answers('idles high')
    load()
    await screen.findByText('idles high')
    await stored()
    const db = await database()
    const [key] = await db.getAllKeys('queries')
    await db.put('queries', { ...(await db.get('queries', key))!, buster: '0' }, key)
    await kept.persisterGc()
    expect(await db.count('queries')).toBe(0)
  })
})
