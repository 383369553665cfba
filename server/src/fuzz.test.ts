import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { seededRandom } from '@uvula/core'
import { Harness } from './harness.fixture.js'

/** Requests; `FUZZ=10000` for the long form. */
const REQUESTS = Number(process.env.FUZZ ?? 1500)
const BESIDE = 8
/** Routes that change what the server is, and those that stay open by design. */
const LEFT_OUT = [/\/shop\/(open|restore)/, /stream|together\/|events/, /\/shop\/backup$/]

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

interface Route {
  readonly method: string
  readonly path: string
  /** Fields that its body is documented to have. */
  readonly fields: readonly string[]
}

interface Described {
  readonly paths: Record<
    string,
    Record<string, { requestBody?: { content?: Record<string, { schema?: { $ref?: string } }> } }>
  >
  readonly components?: { readonly schemas?: Record<string, { properties?: object }> }
}

function routesOf({ paths, components }: Described): Route[] {
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { requestBody }]) => {
      const ref =
        Object.values(requestBody?.content ?? {})[0]
          ?.schema?.$ref?.split('/')
          .at(-1) ?? ''
      return { method: method.toUpperCase(), path, fields: Object.keys(components?.schemas?.[ref]?.properties ?? {}) }
    }),
  )
}

/** Things that no field wants, and some that a field may. */
function oddities(random: () => number): () => unknown {
  const pick = <T>(xs: readonly T[]): T => xs[Math.floor(random() * xs.length)]
  const odd = (depth: number): unknown =>
    pick<() => unknown>([
      () => null,
      () => true,
      () => pick([0, -1, 1e308, -1e308, 0.1, 2 ** 53, 1e-320]),
      () =>
        pick([
          '',
          ' ',
          'x',
          'idle',
          'rpm',
          'visit-vet',
          '2026-01-01T00:00:00Z',
          '../../etc/passwd',
          '\u0000',
          '\ud800',
          '%00',
          '<script>',
          "';--",
        ]),
      () => 'ü'.repeat(Math.floor(random() * 5000)),
      () => (depth > 3 ? [] : Array.from({ length: Math.floor(random() * 6) }, () => odd(depth + 1))),
      () => (depth > 3 ? {} : { [pick(['a', 'id', '__proto__', 'constructor', 'kind', 'value'])]: odd(depth + 1) }),
      () => Array.from({ length: 300 }, () => 0),
    ])()
  return () => odd(0)
}

describe('requests that make no sense, over every route', () => {
  it('are answered, never with a failure of ours, and the data file does not grow by them', async () => {
    const random = seededRandom(11)
    for (let i = 0; i < 4; i++) random()
    const odd = oddities(random)
    const described = (await (await fetch(`${server.base}/api/openapi.json`)).json()) as Described
    const routes = routesOf(described).filter((r) => !LEFT_OUT.some((x) => x.test(r.path)))
    expect(routes.length).toBeGreaterThan(50)
    const before = await server.size()
    const failed: string[] = []
    const one = async (): Promise<void> => {
      const { method, path, fields } = routes[Math.floor(random() * routes.length)]
      const url = path.replace(
        /\{[^}]+\}/g,
        () => encodeURIComponent(Buffer.from(String(odd() ?? 'x')).toString('utf8', 0, 200)) || 'x',
      )
      const body = Object.fromEntries(fields.filter(() => random() < 0.8).map((f) => [f, odd()]))
      const answer = await fetch(server.base + url, {
        method,
        headers: { 'content-type': 'application/json', 'idempotency-key': `fuzz-${random()}` },
        ...(method === 'GET' || method === 'HEAD' ? {} : { body: JSON.stringify(random() < 0.1 ? odd() : body) }),
      })
      const text = await answer.text()
      // no vehicle, no gauges: a refusal with its sentence, and no failure
      const said = answer.status === 503 && /uvula:(link|storage)/.test(text)
      if (answer.status >= 500 && !said)
        failed.push(`${answer.status} ${method} ${url} ${JSON.stringify(body).slice(0, 300)}`)
    }
    for (let n = 0; n < REQUESTS; n += BESIDE) await Promise.all(Array.from({ length: BESIDE }, one))
    expect(failed).toEqual([])
    expect((await server.call('GET', '/api/visits/visit-vet')).status).toBe(200)
    expect((await server.size()) - before).toBeLessThan(1e6)
  }, 600_000)
})
