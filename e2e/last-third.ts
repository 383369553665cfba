/** What the tests of a visit's last third do by hand, from the first start to the printed page. */
import type { Page } from '@playwright/test'
import { pdfText } from './pdf-text.js'
import { delivered, expect, type Shop } from './shop.js'

/** Of a visit, what is read back. */
interface Kept {
  readonly readings: readonly { readonly id: string; readonly channel: string; readonly value: number }[]
  readonly reports: readonly { readonly id: string }[]
}

let keys = 0
/** A record sent as another tablet would send it. */
export const send = async (shop: Shop, noun: string, id: string, data: object): Promise<void> => {
  const answer = await fetch(`${shop.url}/api/${noun}/${encodeURIComponent(id)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': `by-hand-${++keys}` },
    body: JSON.stringify({ by: 'Ebbe', at: new Date().toISOString(), baseVersion: 0, ...data }),
  })
  expect([answer.status, await answer.text()]).toEqual([200, expect.any(String)])
}
export const repair = (visitId: string, station: string, more: object = {}): object => ({
  visitId,
  station,
  kind: 'refit',
  state: 'done',
  afterRound: 0,
  temporary: false,
  minutes: 10,
  partsPrice: 4,
  conditions: [],
  ...more,
})

/** Types the idle of the round that is open, cell by cell. */
export async function typeIdle(page: Page, values: Readonly<Record<string, number>>): Promise<void> {
  await page.locator('[data-channel=rpm] input').waitFor()
  for (const [channel, value] of Object.entries(values)) {
    const cell = page.locator(`[data-channel=${channel}] input`)
    if (!(await cell.count())) continue
    await cell.fill(String(value))
    await cell.press('Enter')
  }
  await delivered(page)
}

/** Works every act after the last fastener, in its order. */
export async function firstStart(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/first-start`)
  await expect(page.getByText('May be started: nothing is open.')).toBeVisible()
  const acts = page.locator('[data-act][data-done=false]')
  for (let left = await acts.count(); left > 0; left--) {
    await acts.first().getByRole('checkbox').click()
    await expect(acts).toHaveCount(left - 1)
  }
}

/** Watches an idle as a colleague's tablet would have done for five minutes. */
export const settled = (shop: Shop, visitId: string, rpm: number): Promise<void> =>
  send(shop, 'balances', `${visitId}:settle`, {
    visitId,
    round: 0,
    taken: {
      kind: 'settle',
      ended: true,
      beganAt: new Date(Date.now() - 300_000).toISOString(),
      samples: Array.from({ length: 13 }, (_, i) => ({ s: 25 * i, rpm: rpm + (i % 2) })),
    },
  })

/** Issues the sheet and reads its pages back. */
export async function issued(page: Page, shop: Shop, visitId: string): Promise<string[]> {
  await page.goto(`${shop.url}/visit/${visitId}/hand-over`)
  await page.getByRole('button', { name: 'issue the sheet' }).click()
  await expect(page.getByRole('article', { name: 'sheet' })).toContainText('sheet 1')
  await delivered(page)
  const { reports } = await shop.get<Kept>(`/api/visits/${visitId}`)
  const began = Date.now()
  const pdf = Buffer.from(
    await (await fetch(`${shop.url}/api/reports/${encodeURIComponent(reports[0].id)}/pdf`)).arrayBuffer(),
  )
  expect(pdf.length).toBeLessThan(300_000)
  console.log(`PDF of ${visitId}: ${(pdf.length / 1024).toFixed(0)} kB in ${Date.now() - began} ms`)
  return pdfText(pdf)
}
export const says = (text: string, sentence: string): void => expect(text).toContain(sentence.replace(/\s/g, ''))
export const baseline = async (shop: Shop, visitId: string): Promise<Record<string, number>> => {
  const { readings } = await shop.get<Kept>(`/api/visits/${visitId}`)
  return Object.fromEntries(readings.filter((r) => r.id.includes(':0:idle:')).map((r) => [r.channel, r.value]))
}
