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

/** Smallest target for a gloved finger, and smallest letters in a drawing, as they stand on the screen [px]. */
const TARGET = 48
const LETTERS = 16

/**
 * Targets that are too small for a glove and letters in drawings that are too small for an arm's length. A stretch of a recording is as
 * wide as its time: each stands as a row of full height beside its line.
 */
export async function outOfReach(page: Page): Promise<string[]> {
  return page.evaluate(
    ([target, letters]) => {
      const inSight = (e: Element): boolean => {
        const { width, height } = e.getBoundingClientRect()
        return width > 0 && height > 0 && getComputedStyle(e).visibility !== 'hidden'
      }
      const nameOf = (e: Element): string =>
        `${e.tagName.toLowerCase()} ${e.getAttribute('aria-label') ?? e.textContent}`
      const TARGETS =
        'a, button, input:not([type=file]), textarea, [role=radio], [role=tab], [role=checkbox], g[role=button]'
      const small = [...document.querySelectorAll(TARGETS)]
        .filter((e) => inSight(e) && !e.closest('.visually-hidden, .skip, [data-stretch-line]'))
        .map((e) => ({ e, r: e.getBoundingClientRect() }))
        .filter(({ r }) => r.width < target - 0.5 || r.height < target - 0.5)
        .map(({ e, r }) => `${nameOf(e).slice(0, 50)}: ${r.width.toFixed(0)} x ${r.height.toFixed(0)}`)
      const faint = [...document.querySelectorAll('svg text')].filter(inSight).flatMap((e) => {
        const m = (e as SVGGraphicsElement).getScreenCTM()
        const px = parseFloat(getComputedStyle(e).fontSize) * (m ? Math.hypot(m.b, m.d) : 1)
        return px < letters - 0.1 ? [`"${e.textContent.slice(0, 30)}": ${px.toFixed(1)} px`] : []
      })
      return [...small, ...faint]
    },
    [TARGET, LETTERS] as const,
  )
}
