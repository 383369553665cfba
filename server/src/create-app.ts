import 'reflect-metadata'
import { randomBytes } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { NestFactory } from '@nestjs/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger'
import compression from 'compression'
import { json, raw, static as serveStatic, type NextFunction, type Request, type Response } from 'express'
import { UPLOAD_PIECE } from '@uvula/contract'
import compressedStatic from 'express-static-gzip'
import helmet from 'helmet'
import { AccessFile } from './access/access-file.js'
import type { DoorPlace } from './access/network-door.js'
import { AccessService } from './access/access.service.js'
import { networkOf, shownBy } from './access/way-in.js'
import { AppModule } from './app.module.js'
import { boundBody } from './records/body-bounds.js'
import { signedOut } from './records/problem.js'
import { ProblemFilter } from './records/problem.filter.js'
import { validation } from './records/validation.js'

/** Where things are. */
export interface AppPaths {
  /** Path of a data file, or an address of PostgreSQL. */
  readonly database: string
  /** The shop's own, which may not be the one that is open; without it the file `own.sqlite` of the folder. */
  readonly own?: string
  /** Folder of this computer for what stands beside a database; without it that of the data file. */
  readonly folder?: string
  /** Built interface; without it only the API is served. */
  readonly web?: string
  /** Who may come in from the network; without it the file that lies beside the database. */
  readonly access?: AccessFile
  /** Where the network would be served. */
  readonly door?: DoorPlace
}

/** A door of its own that nobody is told of. */
const SOME_DOOR: DoorPlace = { port: 4311, at: '0.0.0.0', plain: false }

/** Names under which this machine may be called: a page of another name gets nothing (DNS rebinding). */
const OWN_HOSTS = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/

/** Nouns whose writes carry a file; every other body is small. */
const FILES = ['/api/recordings', '/api/photos']

/** Builds the server, ready to listen. */
export async function createApp(paths: AppPaths): Promise<NestExpressApplication> {
  const { database, folder = dirname(database), own = join(folder, 'own.sqlite') } = paths
  const app = await NestFactory.create<NestExpressApplication>(
    AppModule.at({ database, own, folder }, paths.access ?? new AccessFile(folder), paths.door ?? SOME_DOOR),
    {
      bodyParser: false,
      logger: ['error', 'warn'],
    },
  )
  // a number used once for each answer: styles that carry it may stand in the page, and no others
  app.use((_req: Request, res: Response, next: NextFunction) => {
    res.locals.nonce = randomBytes(16).toString('base64')
    next()
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'", (_req, res) => `'nonce-${(res as Response).locals.nonce}'`],
          // position and size of what is drawn are set as style properties by script, which this does not cover
          imgSrc: ["'self'", 'blob:', 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          manifestSrc: ["'self'"],
          baseUri: ["'none'"],
          formAction: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use((req: Request, res: Response, next: NextFunction) => {
    const host = req.headers.host ?? ''
    const origin = req.headers.origin
    const way = networkOf(req)
    const isOurs = way ? way.hosts.includes(host.toLowerCase()) : OWN_HOSTS.test(host)
    if (isOurs && (origin === undefined || origin === `${way?.scheme ?? 'http'}://${host}`)) return next()
    res
      .status(403)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: 'uvula:foreign',
          title: 'Not from here',
          status: 403,
          detail: 'This server answers its own pages only.',
        }),
      )
  })
  // nothing is asked for again by its tag: answers with data are kept nowhere, and the tag of a large one costs its milliseconds
  app.set('etag', false)
  // what a shop keeps stands in no cache; the bay alone may wait for its page, which asks for it ahead of its script
  app.use('/api', (req: Request, res: Response, next: NextFunction) => {
    res.set('Cache-Control', req.path === '/bay' ? 'private, no-cache' : 'no-store')
    // by which a tablet tells how far its own clock is off
    res.set('Uvula-Now', String(Date.now()))
    next()
  })
  // nobody signed in: refused before a body of theirs is read; what each may is the guard's to say
  app.use('/api', (req: Request, res: Response, next: NextFunction) => {
    const way = networkOf(req)
    if (!way || req.path.startsWith('/access') || app.get(AccessService).asking(shownBy(req, way))?.me) return next()
    const { problem } = signedOut()
    res.status(problem.status).type('application/problem+json').send(JSON.stringify(problem))
  })
  app.use(compression())
  app.use('/api/uploads', raw({ limit: UPLOAD_PIECE, type: 'application/octet-stream' }))
  app.use(FILES, json({ limit: '48mb' }))
  app.use(json({ limit: '1mb' }))
  app.use(boundBody)
  app.useGlobalPipes(validation())
  app.useGlobalFilters(new ProblemFilter())
  const document = SwaggerModule.createDocument(app, new DocumentBuilder().setTitle('Uvula').setVersion('1').build())
  app.use('/api/openapi.json', (_req: Request, res: Response) => void res.json(document))
  if (paths.web && existsSync(paths.web)) serveWeb(app, paths.web)
  return app
}

/** What the built page holds in place of the nonce of its answer, and where it says by which way it came. */
const NONCE = 'CSP_NONCE'
const HEAD = '<html'

function serveWeb(app: NestExpressApplication, web: string): void {
  const page = readFileSync(join(web, 'index.html'), 'utf8')
  const onNetwork = page.replace(HEAD, `${HEAD} data-way="network"`)
  const pageFor = (req: Request): string => (networkOf(req) ? onNetwork : page)
  const options = { immutable: true, maxAge: '1y', fallthrough: false }
  app.use(
    '/assets',
    compressedStatic(join(web, 'assets'), { enableBrotli: true, orderPreference: ['br'], serveStatic: options }),
  )
  app.use(serveStatic(web, { index: false, maxAge: 0 }))
  app.use((req: Request, res: Response, next: NextFunction) => {
    if (req.method !== 'GET' || req.path.startsWith('/api')) return next()
    // the bay's cars come while the script still loads
    if (req.path === '/') res.set('Link', '</api/bay>; rel=preload; as=fetch; crossorigin=anonymous')
    // never from a cache, which would pair an old nonce with a new header
    res
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(pageFor(req).replaceAll(NONCE, res.locals.nonce as string))
  })
}
