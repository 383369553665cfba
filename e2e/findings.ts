import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What an accessibility rule finds wrong, and where. */
export interface Finding {
  readonly id: string
  readonly nodes: string[]
}

/** What the accessibility rules find wrong; at night the same page in its other colours. */
export async function findings(page: Page, rules?: readonly string[]): Promise<Finding[]> {
  // by the debugger, not as a script of the page: the page's policy stays as it is
  await page.evaluate(axe)
  return page.evaluate(async (only) => {
    const { axe } = globalThis as unknown as {
      axe: { run: (o: object) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> }
    }
    const { violations } = await axe.run({
      resultTypes: ['violations'],
      ...(only ? { runOnly: { type: 'rule', values: only } } : {}),
    })
    return violations.map((v) => ({ id: v.id, nodes: v.nodes.slice(0, 3).map((n) => n.html.slice(0, 120)) }))
  }, rules)
}
