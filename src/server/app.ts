import { constants } from 'node:zlib'
import compress from '@fastify/compress'
import cookie from '@fastify/cookie'
import helmet from '@fastify/helmet'
import rateLimit from '@fastify/rate-limit'
import staticFiles from '@fastify/static'
import swagger from '@fastify/swagger'
import fastify, {
  LogController,
  type FastifyBaseLogger,
  type FastifyReply,
  type FastifyRequest,
} from 'fastify'
import {
  jsonSchemaTransform,
  jsonSchemaTransformObject,
  serializerCompiler,
  validatorCompiler,
  type ZodTypeProvider,
} from 'fastify-type-provider-zod'
import { z } from 'zod'
import { SCREENS } from '../contract/screens.ts'
import { inputProblem } from '../core/words/inputProblem.ts'
import { workflowJsonSchema } from '../core/workflow/jsonSchema.ts'
import { AppError } from '../backend/platform/errors.ts'
import { openReading, type Reading } from '../backend/platform/reading.ts'
import { Standby } from '../backend/platform/standby.ts'
import type { App, ServerContext } from './context.ts'
import { readDkim, smtpMailer } from '../backend/messages/index.ts'
import { readBodies, SMALL_BODY_BYTES } from './bodies.ts'
import { answerError } from './errors.ts'
import { completed, INFO, problemList } from './documented/openapi.ts'
import { requireUser, SAFE_METHODS, sameOrigin } from './guards.ts'
import { answerOnce } from './idempotency.ts'
import { Places } from './places.ts'
import { addressRoutes, confirmSenderRoutes } from './routes/shop/addresses.ts'
import { activityRoutes } from './routes/work/activity.ts'
import { rehearsalRoutes } from './routes/workflows/rehearsal.ts'
import { overviewRoutes } from './routes/shop/overview.ts'
import { brandRoutes } from './routes/shop/brand.ts'
import { fileRoutes, publicFileRoutes } from './routes/shop/files.ts'
import { followRoutes } from './routes/customers/follow.ts'
import { messageRoutes } from './routes/work/messages.ts'
import { apiKeyRoutes } from './routes/shop/apiKeys.ts'
import { calendarAddressRoutes, calendarRoutes } from './routes/shop/calendar.ts'
import { clockRoutes } from './routes/shop/clock.ts'
import { couponRoutes, shopCouponRoutes } from './routes/shop/coupons.ts'
import { reorderRoutes } from './routes/shop/reorders.ts'
import { peopleRoutes } from './routes/people/people.ts'
import { importRoutes } from './routes/people/imports.ts'
import { labelRoutes } from './routes/people/labels.ts'
import { rightsRoutes } from './routes/people/rights.ts'
import { exportRoutes } from './routes/people/exports.ts'
import { peopleExportRoutes } from './routes/people/peopleFile.ts'
import { segmentRoutes } from './routes/people/segments.ts'
import { Evaluator } from '../backend/connections/index.ts'
import { incomingConnectionRoutes } from './routes/incoming/connections.ts'
import { shopFactsRoutes } from './routes/shop/shopFacts.ts'
import { statusRoutes } from './routes/shop/status.ts'
import { standingRoutes } from './routes/shop/standing.ts'
import { connectionRoutes } from './routes/shop/connections.ts'
import { counterRoutes } from './routes/work/counter.ts'
import { arrivalRoutes } from './routes/incoming/arrivals.ts'
import { eventRoutes } from './routes/incoming/events.ts'
import { designRoutes } from './routes/workflows/designs.ts'
import { keptBlockRoutes } from './routes/workflows/keptBlocks.ts'
import { keepAudit } from './audit.ts'
import { auditRoutes } from './routes/shop/audit.ts'
import { accountRoutes } from './routes/work/account.ts'
import { beginningRoutes, firstStepsRoutes } from './routes/work/beginning.ts'
import { passkeyRoutes, passkeySessionRoutes } from './routes/work/passkeys.ts'
import { passwordLinkRoutes } from './routes/work/passwordLinks.ts'
import { userRoutes } from './routes/work/users.ts'
import { sessionRoutes } from './routes/work/session.ts'
import { textRoutes } from './routes/workflows/texts.ts'
import { healthRoutes } from './routes/watch/health.ts'
import { metricsRoutes } from './routes/watch/metrics.ts'
import { unsubscribeRoutes } from './routes/customers/unsubscribe.ts'
import { attentionRoutes } from './routes/work/attention.ts'
import { countRoutes } from './routes/workflows/counts.ts'
import { noticeRoutes, shopNoticeRoutes } from './routes/workflows/notices.ts'
import { reportRoutes } from './routes/incoming/reports.ts'
import { shopRulesRoutes } from './routes/shop/shopRules.ts'
import { workflowListRoutes } from './routes/workflows/workflowList.ts'
import { workflowRoutes } from './routes/workflows/workflows.ts'
import { visitRoutes } from './routes/customers/visits.ts'
import { goingLiveRoutes } from './routes/workflows/goingLive.ts'
import { archiveRoutes } from './routes/workflows/archives.ts'
import { intakeRoutes } from './routes/workflows/intakes.ts'
import { workflowPeopleRoutes, workflowStateRoutes } from './routes/workflows/workflowStates.ts'

export interface AppOptions extends Omit<ServerContext, 'reading' | 'places'> {
  log: FastifyBaseLogger
  /** The folder of the built web application; none in tests of the API alone. */
  webFolder?: string
}

/** The signed part of an address that confirms a sender holds an email address of up to 254 characters. */
const MOST_PARAM_LENGTH = 1500

/** Puts the server together: security headers, who may do what, the routes, the web application. */
export async function buildApp({ log, webFolder, ...options }: AppOptions): Promise<App> {
  const { config } = options
  const reading = readingOf(options)
  const context: ServerContext = { ...options, reading, places: new Places() }
  z.config({ customError: inputProblem })
  const app = fastify({
    trustProxy: trusted(config.TRUST_PROXY),
    loggerInstance: log,
    logController: new LogController({ disableRequestLogging: true }),
    bodyLimit: SMALL_BODY_BYTES,
    routerOptions: { maxParamLength: MOST_PARAM_LENGTH },
  }).withTypeProvider<ZodTypeProvider>()
  app.setValidatorCompiler(validatorCompiler)
  app.setSerializerCompiler(serializerCompiler)
  app.setErrorHandler(answerError)
  readBodies(app)
  app.addHook('onClose', () => reading.close())
  await app.register(helmet, {
    contentSecurityPolicy: { directives: contentSecurity(context.publicUrl) },
  })
  await app.register(compress, COMPRESSION)
  await app.register(cookie)
  await app.register(rateLimit, { global: false })
  await app.register(swagger, {
    openapi: { openapi: '3.1.0', info: INFO },
    transform: jsonSchemaTransform,
    transformObject: (given) => completed(jsonSchemaTransformObject(given)),
  })
  await app.register(async (outside) =>
    eventRoutes(outside.withTypeProvider<ZodTypeProvider>(), context),
  )
  const evaluator = new Evaluator()
  app.addHook('onClose', () => evaluator.close())
  await app.register(async (outside) =>
    incomingConnectionRoutes(outside.withTypeProvider<ZodTypeProvider>(), context, evaluator),
  )
  await app.register(async (outside) =>
    reportRoutes(outside.withTypeProvider<ZodTypeProvider>(), context),
  )
  await app.register(async (outside) =>
    unsubscribeRoutes(outside.withTypeProvider<ZodTypeProvider>(), context),
  )
  await app.register(async (outside) =>
    confirmSenderRoutes(outside.withTypeProvider<ZodTypeProvider>(), context),
  )
  for (const routes of OUTSIDE) routes(app, context)
  const mailer = smtpMailer(config.SMTP_URL, { connections: 1, dkim: readDkim(config) })
  app.addHook('onClose', () => mailer.close())
  await app.register(async (inside) => {
    inside.addHook('onRequest', keepNothing)
    inside.addHook('onRequest', sameOrigin(context))
    sessionRoutes(inside.withTypeProvider<ZodTypeProvider>(), context)
    passkeySessionRoutes(inside.withTypeProvider<ZodTypeProvider>(), context)
    passwordLinkRoutes(inside.withTypeProvider<ZodTypeProvider>(), context, mailer)
    beginningRoutes(inside.withTypeProvider<ZodTypeProvider>(), context)
  })
  await app.register(async (inside) => {
    inside.addHook('onRequest', keepNothing)
    inside.addHook('onRequest', sameOrigin(context))
    inside.addHook('onRequest', requireUser(context))
    const typed = inside.withTypeProvider<ZodTypeProvider>()
    showChanges(typed, reading)
    answerOnce(typed, context)
    keepAudit(typed, context)
    for (const routes of SIGNED_IN) routes(typed, context)
    messageRoutes(typed, context, mailer)
    userRoutes(typed, context, mailer)
    accountRoutes(typed, context, mailer)
    passkeyRoutes(typed, context, mailer)
    rehearsalRoutes(typed, context, mailer)
    addressRoutes(typed, context, mailer)
    workflowStateRoutes(typed, context, mailer)
    connectionRoutes(typed, context, evaluator)
  })
  app.get('/api/openapi.json', () => app.swagger())
  app.get('/api/problems', problemList)
  app.get('/api/schema/workflow.json', () => workflowJsonSchema())
  await serveWeb(app, webFolder)
  return app
}

function readingOf({
  config: { DATABASE_URL, STANDBY_URL },
  db,
}: Pick<AppOptions, 'config' | 'db'>) {
  const standby = STANDBY_URL === undefined ? null : new Standby(STANDBY_URL, db)
  return openReading(DATABASE_URL, db, standby)
}

/** Says what has been changed before it is answered, or whoever asks next would not see what they have just done. */
function showChanges(app: App, reading: Reading): void {
  app.addHook('onSend', async ({ method, user }) => {
    if (!SAFE_METHODS.has(method) && user !== undefined) reading.changed(user.shopId)
  })
}

/** What is for programs, and for who follows a link. */
const OUTSIDE = [
  metricsRoutes,
  healthRoutes,
  publicFileRoutes,
  calendarRoutes,
  followRoutes,
  textRoutes,
  shopNoticeRoutes,
  shopCouponRoutes,
]

/** What only those see who are signed in. */
const SIGNED_IN = [
  clockRoutes,
  workflowListRoutes,
  workflowRoutes,
  standingRoutes,
  shopFactsRoutes,
  statusRoutes,
  firstStepsRoutes,
  goingLiveRoutes,
  intakeRoutes,
  archiveRoutes,
  visitRoutes,
  workflowPeopleRoutes,
  attentionRoutes,
  countRoutes,
  shopRulesRoutes,
  brandRoutes,
  keptBlockRoutes,
  designRoutes,
  fileRoutes,
  noticeRoutes,
  couponRoutes,
  reorderRoutes,
  overviewRoutes,
  calendarAddressRoutes,
  counterRoutes,
  peopleRoutes,
  segmentRoutes,
  peopleExportRoutes,
  exportRoutes,
  labelRoutes,
  rightsRoutes,
  importRoutes,
  arrivalRoutes,
  apiKeyRoutes,
  auditRoutes,
  activityRoutes,
]

/**
 * Answers only: what others send stays within its limit as it comes. Brotli's own default takes a second
 * for a script; this quality is about as small as gzip at its best.
 */
const COMPRESSION = {
  globalDecompression: false,
  brotliOptions: { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } },
}

/** Whom Fastify believes: nobody, all, those at some addresses, or so many in a row. */
const trusted = (proxies: string | number | boolean) =>
  typeof proxies === 'number' ? (_address: string, hop: number) => hop < proxies : proxies

function contentSecurity(publicUrl: string) {
  return {
    'default-src': ["'self'"],
    'script-src': ["'self'"],
    // React sets inline styles for positions on the timetable.
    'style-src': ["'self'", "'unsafe-inline'"],
    // Messages are looked at with the images they will have.
    'img-src': ["'self'", 'data:', 'https:'],
    'font-src': ["'self'", 'data:'],
    'frame-src': ["'self'", 'data:'],
    'form-action': ["'self'"],
    'frame-ancestors': ["'self'"],
    'object-src': ["'none'"],
    'upgrade-insecure-requests': publicUrl.startsWith('https://') ? [] : null,
  }
}

/** What is answered to people who are signed in is about people, and no cache's business. */
async function keepNothing(_request: FastifyRequest, reply: FastifyReply): Promise<void> {
  reply.header('cache-control', 'no-store')
}

/** Whether somebody’s browser looks for a page, and not a program for an answer. */
const isSomebodys = ({ method, url, headers }: FastifyRequest): boolean =>
  method === 'GET' && !/^\/(api|v1)\//.test(url) && (headers.accept ?? '').includes('text/html')

/** Whether an address is one of a screen. Whatever else is not there is told so: a probe for `/health` is answered by no screen. */
const isScreen = ({ url }: FastifyRequest): boolean => SCREENS.has(url.split(/[/?#]/)[1] ?? '')

async function serveWeb(app: App, webFolder: string | undefined): Promise<void> {
  if (webFolder === undefined) return
  // A route for each file that there is; with one for all of them, the first page and every folder
  // would be answered as folders that may not be listed.
  await app.register(staticFiles, {
    root: webFolder,
    wildcard: false,
    immutable: true,
    maxAge: '1y',
    index: false,
  })
  app.setNotFoundHandler((request, reply) => {
    const isThere = request.method === 'GET' && isScreen(request)
    if (!isThere && !isSomebodys(request)) {
      throw new AppError('not_found', 'There is nothing at this address.')
    }
    // Who has mistyped an address is told so on a screen.
    if (!isThere) reply.status(404)
    return reply.sendFile('index.html', { maxAge: 0, immutable: false })
  })
}
