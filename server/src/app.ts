import 'reflect-metadata'
import { type INestApplication, ValidationPipe } from '@nestjs/common'
import { NestFactory } from '@nestjs/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import { DocumentBuilder, type OpenAPIObject, SwaggerModule } from '@nestjs/swagger'
import compression from 'compression'
import { constants } from 'node:zlib'
import express, { type NextFunction, type Request, type Response } from 'express'
import staticGzip from 'express-static-gzip'
import helmet from 'helmet'
import { existsSync } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { openSessions } from './account/sessions.js'
import { AppModule } from './app.module.js'
import { describeAnswers, readContract } from './common/contract.js'
import { ProblemException, malformed, problemsOfValidation, sendProblem } from './common/problemDetails.js'
import { RequestLogger, giveRequestId } from './common/requestLog.js'
import { type Trust, cameOverTls, sameOrigin, trustIn } from './common/sameOrigin.js'
import { LiveGateway } from './live/live.gateway.js'
import type { Settings } from './common/settings.js'
import { Drawings } from './web/drawing.js'
import { firstPages } from './web/firstPage.js'

const CSP = {
  useDefaults: false,
  directives: {
    'default-src': ["'self'"],
    // Text recognition runs as WebAssembly; nothing else is evaluated.
    'script-src': ["'self'", "'wasm-unsafe-eval'"],
    'worker-src': ["'self'"],
    // The style sheet that the package of charts writes beside each of them, by what stands in it: no other one is taken.
    'style-src': ["'self'", "'sha256-aSysLrDECVdJ6L+jLf8CC5QKLmwRuk/OZiZk9mYky8A='"],
    'img-src': ["'self'", 'data:', 'blob:'],
    'font-src': ["'self'"],
    'connect-src': ["'self'"],
    'object-src': ["'none'"],
    'base-uri': ["'none'"],
    'form-action': ["'self'"],
    // A worksheet is tried in a frame as wide as a phone; no other site may show us in one.
    'frame-src': ["'self'"],
    'frame-ancestors': ["'self'"],
  },
}
/** A roster of 5,000 rows, or a worksheet of a million characters, with room. */
const BODY_LIMIT = '4mb'

/** Builds the application: the API under `/api`, the live gateway, and the web application if it is built. */
export async function createApp(settings: Settings): Promise<INestApplication> {
  const sessions = openSessions(settings)
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(settings, sessions), {
    bodyParser: false,
    logger: new RequestLogger(settings.logs),
  })
  app.disable('x-powered-by')
  const trust = trustIn(settings.trustedProxies)
  app.set('trust proxy', trust)
  app.use(giveRequestId)
  app.use(onlyOverTls(trust))
  app.use(
    helmet({
      contentSecurityPolicy: CSP,
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
      referrerPolicy: { policy: 'same-origin' },
    }),
  )
  const webRoot = settings.webRoot && existsSync(join(settings.webRoot, 'index.html')) ? settings.webRoot : null
  if (webRoot) serveAssets(app, webRoot)
  // Quick rather than small: an answer of a large class is made while a whole class writes.
  app.use(
    compression({
      threshold: 1_000,
      level: 3,
      chunkSize: 65_536,
      brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } },
    }),
  )
  if (webRoot) serveWeb(app, webRoot)
  app.use(
    '/api',
    guardOrigin(trust),
    express.json({ limit: BODY_LIMIT, verify: refuseDeep }),
    unreadable,
    noStore,
    sessions.handler,
    sessionTrouble,
  )
  app.setGlobalPrefix('api')
  app.useGlobalPipes(
    new ValidationPipe({
      whitelist: true,
      forbidNonWhitelisted: true,
      transform: true,
      exceptionFactory: (errors) => malformed(problemsOfValidation(errors)),
    }),
  )
  const document = openApiDocument(app)
  app.use('/api/openapi.json', (_request: Request, response: Response) => response.json(document))
  app.enableShutdownHooks()
  await app.init()
  await app.get(LiveGateway).attach(app.getHttpServer())
  return app
}

/** The API, described. */
export function openApiDocument(app: INestApplication): OpenAPIObject {
  const about = new DocumentBuilder()
    .setTitle('Gavrin')
    .setDescription('Worksheets given out from a class roster and followed. Errors are problem details (RFC 9457).')
    .setVersion('1')
    .addCookieAuth('gavrin.session')
    .addBearerAuth()
    .build()
  return describeAnswers(SwaggerModule.createDocument(app, about), readContract())
}

/** Files that never change under their address, compressed when they were built. */
function serveAssets(app: NestExpressApplication, root: string): void {
  app.use(
    '/assets',
    staticGzip(join(root, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: { immutable: true, maxAge: '1y', cacheControl: true },
    }),
  )
  app.use('/assets', (_request: Request, response: Response) => void response.status(404).end())
}

/** The web application. Its data block stands inside the page, so it comes after what compresses answers. */
function serveWeb(app: NestExpressApplication, root: string): void {
  app.use(express.static(root, { index: false, maxAge: 0 }))
  const drawings = new Drawings(join(root, '..', 'drawn', 'drawFirst.js'))
  app.getHttpServer().once('close', () => drawings.end())
  const page = firstPages(root, () => app.getHttpServer(), drawings)
  // Every other address is a place in the application, which knows whether it exists.
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.path.startsWith('/api') || (request.method !== 'GET' && request.method !== 'HEAD')) return next()
    page(request, response, next)
  })
}

const guardOrigin =
  (trust: Trust) =>
  (request: Request, response: Response, next: NextFunction): void => {
    if (['GET', 'HEAD', 'OPTIONS'].includes(request.method) || sameOrigin(request, trust)) return next()
    sendProblem(response, new ProblemException(403, 'other-origin', 'This request came from another site.'))
  }

/** Whoever came over TLS once is kept to it. */
const onlyOverTls =
  (trust: Trust) =>
  (request: Request, response: Response, next: NextFunction): void => {
    if (cameOverTls(request, trust)) response.setHeader('Strict-Transport-Security', 'max-age=31536000')
    next()
  }

/** How deep lists and objects may stand in one another; a worksheet needs some forty. */
const JSON_DEPTH = 200

/** Looked at before it is read: whatever goes through a value by itself would run out of room in one nested without end. */
function refuseDeep(_request: IncomingMessage, _response: ServerResponse, body: Buffer): void {
  let depth = 0
  let isText = false
  for (let at = 0; at < body.length; at++) {
    const sign = body[at]
    if (isText) {
      if (sign === 0x5c) at++
      else if (sign === 0x22) isText = false
    } else if (sign === 0x22) isText = true
    else if (sign === 0x7b || sign === 0x5b) {
      if (++depth > JSON_DEPTH) throw Object.assign(new Error('nested too deeply'), { status: 400 })
    } else if (sign === 0x7d || sign === 0x5d) depth--
  }
}

function unreadable(
  error: { status?: number } | null,
  _request: Request,
  response: Response,
  next: NextFunction,
): void {
  if (!error) return next()
  sendProblem(
    response,
    error.status === 413
      ? new ProblemException(413, 'too-large', 'This is more than Gavrin takes at once.')
      : new ProblemException(400, 'not-understood', 'This request could not be understood.'),
  )
}

function noStore(_request: Request, response: Response, next: NextFunction): void {
  response.setHeader('Cache-Control', 'no-store')
  next()
}

/** The session store speaks to the database too. */
function sessionTrouble(_error: unknown, _request: Request, response: Response, _next: NextFunction): void {
  sendProblem(
    response,
    new ProblemException(
      503,
      'database-away',
      'Gavrin cannot reach its database at the moment. Nothing is lost: try again in a moment.',
    ),
  )
}
