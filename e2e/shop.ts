import { spawn, execFileSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base, expect, type Locator, type Page } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const s = createServer()
    s.once('error', () => resolve(false))
    s.listen(port, '127.0.0.1', () => s.close(() => resolve(true)))
  })

/**
 * A port nobody listens at, nor at the next, which the page about the certificate has; below those that the system lends to
 * outgoing connections: a server that is killed and started again finds it free.
 */
async function freePort(): Promise<number> {
  for (;;) {
    const port = 20_000 + 2 * Math.floor(Math.random() * 6_000)
    if ((await isFree(port)) && (await isFree(port + 1))) return port
  }
}

/** The built application with its own data folder, which can be killed and started again. */
export class Shop {
  private child: ChildProcess | undefined
  private readonly cars: ChildProcess[] = []
  private constructor(
    readonly dir: string,
    readonly port: number,
    /** Where tablets of the network find it once it is open to them; the page about its certificate has the next one. */
    readonly networkPort: number,
  ) {}

  static async open(): Promise<Shop> {
    const shop = new Shop(mkdtempSync(join(tmpdir(), 'uvula-e2e-')), await freePort(), await freePort())
    await shop.start()
    return shop
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`
  }

  async start(): Promise<void> {
    this.child = spawn(process.execPath, ['server/bundle/main.js'], {
      cwd: root,
      env: {
        ...process.env,
        PORT: String(this.port),
        UVULA_DATA: this.dir,
        UVULA_NETWORK_PORT: String(this.networkPort),
        UVULA_NETWORK_AT: '127.0.0.1',
      },
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    // a machine that is busy takes its time to start; what is tested begins after it
    for (let i = 0; i < 600; i++) {
      if (
        await fetch(`${this.url}/api/shop`)
          .then((r) => r.ok)
          .catch(() => false)
      )
        return
      await new Promise((r) => setTimeout(r, 100))
    }
    throw new Error('the server did not start')
  }

  /** Ends the server at once, as a power cut would. */
  async kill(): Promise<void> {
    const child = this.child!
    if (child.exitCode !== null || child.signalCode !== null) return
    const gone = new Promise((r) => child.once('exit', r))
    child.kill('SIGKILL')
    await gone
  }

  async close(): Promise<void> {
    for (const car of this.cars) car.kill('SIGKILL')
    await this.kill()
    rmSync(this.dir, { recursive: true, force: true })
  }

  async get<T>(path: string): Promise<T> {
    return (await (await fetch(this.url + path)).json()) as T
  }

  /** The car of a visit on a port of its own, outside the server. */
  async vehicle(visitId: string): Promise<{ port: number; stop: () => void }> {
    const file = await this.get<{ vehicle: { spec: object } }>(`/api/visits/${visitId}`)
    const path = join(this.dir, 'car.json')
    writeFileSync(path, JSON.stringify(file.vehicle.spec))
    const port = await freePort()
    const child = spawn(process.execPath, ['cli/dist/main.js', 'vehicle', '--vehicle', path, '--port', String(port)], {
      cwd: root,
      stdio: ['pipe', 'pipe', 'inherit'],
    })
    await new Promise((r) => child.stdout.once('data', r))
    this.cars.push(child)
    return { port, stop: () => void child.kill('SIGKILL') }
  }

  /** A recording of the simulated engine of a demo car, as a file. */
  async recording(visitId: string, fault: string, name: string, drive = 'shop'): Promise<string> {
    const file = await this.get<{ vehicle: { spec: object } }>(`/api/visits/${visitId}`)
    const vehicle = join(this.dir, 'vehicle.json')
    writeFileSync(vehicle, JSON.stringify(file.vehicle.spec))
    const out = join(this.dir, name)
    execFileSync(
      process.execPath,
      [
        'cli/dist/main.js',
        'simulate',
        '--vehicle',
        vehicle,
        ...(fault ? ['--fault', fault] : []),
        '--drive',
        drive,
        '--seed',
        '9',
        '--out',
        out,
      ],
      { cwd: root },
    )
    return out
  }
}

/** Tests with a shop of their own; any word of the content policy or of a broken page fails them. */
export const test = base.extend<{ shop: Shop; bay: Page }>({
  // eslint-disable-next-line no-empty-pattern -- the runner wants a pattern here
  shop: async ({}, use) => {
    const shop = await Shop.open()
    await use(shop)
    await shop.close()
  },
  bay: async ({ page, shop }, use) => {
    const complaints: string[] = []
    page.on('pageerror', (e) => complaints.push(e.message))
    page.on('console', (m) => {
      if (/Content Security Policy|violates/.test(m.text())) complaints.push(m.text())
    })
    await page.goto(shop.url)
    await use(page)
    expect(complaints).toEqual([])
  },
})

/** Everything typed has reached the server. */
export const delivered = (page: Page): Promise<void> =>
  expect(page.locator('[data-testid=delivery][data-waiting="0"]')).toHaveText('all kept', { timeout: 15_000 })

/** Picks one of a list by its words. */
export async function pick(within: Page | Locator, label: string, option: string): Promise<void> {
  await within.getByRole('combobox', { name: label }).click()
  const page = 'page' in within ? within.page() : within
  await page.getByRole('option', { name: option, exact: true }).click()
}

/** Drops a file on the page as a hand would. */
export async function dropFile(page: Page, path: string, name: string): Promise<void> {
  const text = readFileSync(path, 'latin1')
  const data = await page.evaluateHandle(
    ([content, fileName]) => {
      const d = new DataTransfer()
      d.items.add(new File([Uint8Array.from(content, (c) => c.charCodeAt(0))], fileName))
      return d
    },
    [text, name] as const,
  )
  await page.dispatchEvent('.drop-area', 'drop', { dataTransfer: data })
}

export { expect }
