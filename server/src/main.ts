import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DataSource } from 'typeorm'
import { createApp } from './create-app.js'
import { databaseOptions } from './database/options.js'
import { restoreShop, type ShopFile } from './database/restore.js'
import { Restarter } from './shop/restarter.js'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '../..')
const port = Number(process.env.PORT ?? 4310)
const data = resolve(process.env.UVULA_DATA ?? join(root, 'data'))
const demoFile = join(root, 'demo/dist/demo-shop.json')

type Which = 'own' | 'demo'

/** Which data file is open; remembered beside them. */
function remembered(): Which {
  try {
    return readFileSync(join(data, 'open'), 'utf8').trim() === 'own' ? 'own' : 'demo'
  } catch {
    return existsSync(join(data, 'own.sqlite')) ? 'own' : 'demo'
  }
}

async function fillDemo(path: string): Promise<void> {
  const source = await new DataSource(databaseOptions(path)).initialize()
  await restoreShop(source, JSON.parse(readFileSync(demoFile, 'utf8')) as ShopFile)
  await source.destroy()
}

async function serve(which: Which): Promise<void> {
  mkdirSync(data, { recursive: true })
  const path = join(data, `${which}.sqlite`)
  if (which === 'demo' && !existsSync(path)) await fillDemo(path)
  const app = await createApp({ database: path, web: join(root, 'web/dist') })
  app.get(Restarter).onRestart((next) => {
    void (async () => {
      writeFileSync(join(data, 'open'), next)
      await app.close()
      await serve(next)
    })()
  })
  app.enableShutdownHooks()
  await app.listen(port, '127.0.0.1')
  console.log(`Uvula is at http://127.0.0.1:${port}`)
}

try {
  await serve(remembered())
} catch (e) {
  const code = (e as { code?: string }).code
  console.error(code === 'EADDRINUSE' ? `Port ${port} is taken: stop the other program or set PORT.` : e)
  process.exit(1)
}
