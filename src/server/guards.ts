import type { FastifyReply, FastifyRequest } from 'fastify'
import {
  findSession,
  holderOfKey,
  rotateSession,
  type KeyHolder,
} from '../backend/accounts/index.ts'
import { mayBuild, mayOwn, mayWrite } from '../contract/roles.ts'
import { SHOP_HEADER } from '../contract/session.ts'
import { AppError } from '../backend/platform/errors.ts'
import type { Database } from '../backend/platform/db.ts'
import { SCOPE_WORDS } from '../contract/scopes.ts'
import type { ServerContext } from './context.ts'
import { OPERATIONS, operationKey } from './documented/operations.ts'

/** The session cookie. Over https its name binds it to this host (RFC 6265bis, __Host-). */
export function sessionCookie({ publicUrl, config }: Pick<ServerContext, 'publicUrl' | 'config'>) {
  const secure = publicUrl.startsWith('https://')
  return {
    name: sessionCookieName(secure),
    options: {
      path: '/',
      httpOnly: true,
      secure,
      sameSite: 'lax' as const,
      maxAge: Math.round(config.SESSION_IDLE_HOURS * 3600),
    },
  }
}

/** What the session's cookie is called. */
export const sessionCookieName = (secure: boolean): string =>
  secure ? '__Host-yomble' : 'yomble_session'

/** Lets only signed-in people through, and keys that may do it; gives an old session a new token on the way. */
export function requireUser(context: ServerContext) {
  const { db, config } = context
  const cookie = sessionCookie(context)
  return async (request: FastifyRequest, reply: FastifyReply): Promise<void> => {
    if (request.headers.authorization !== undefined) {
      const { shopId, id, name } = await keyHolderOf(db, request)
      request.user = {
        shopId,
        userId: `key:${id}`,
        name: `API key “${name}”`,
        email: '',
        // What a key may do is said by its scopes.
        role: 'owner',
        hasSecondFactor: false,
        isStrong: true,
        lacksStrength: false,
      }
      return
    }
    const token = request.cookies[cookie.name]
    const found = token ? await findSession(db, token) : null
    if (!token || !found) throw new AppError('not_signed_in', 'Sign in to go on.')
    request.user = found.user
    refuseOtherShop(request)
    if (!found.stale) return
    const rotated = await rotateSession(db, token, config)
    if (rotated) reply.setCookie(cookie.name, rotated.token, cookie.options)
  }
}

/** A page that was opened before its reader went to another shop, in another tab, must not write there. */
function refuseOtherShop({ headers, user }: FastifyRequest): void {
  const shown = headers[SHOP_HEADER]
  if (shown === undefined || shown === user.shopId) return
  throw new AppError('other_shop', 'You have gone to another shop since this page was opened. Load it anew.')
} // prettier-ignore

/** Staff may look and act at the counter; building and switching on is for marketers. */
export async function requireMarketer(request: FastifyRequest): Promise<void> {
  if (!mayBuild(request.user.role)) {
    throw new AppError('not_allowed', 'Your account may look at workflows but not change them.')
  }
}

/** Words and designs are for writers, too. */
export async function requireWriter(request: FastifyRequest): Promise<void> {
  if (!mayWrite(request.user.role)) {
    throw new AppError('not_allowed', 'Your account may look at messages but not change them.')
  }
}

/** Who else may what, keys and erasing people are the owners'. */
export async function requireOwner(request: FastifyRequest): Promise<void> {
  if (!mayOwn(request.user.role)) {
    throw new AppError('not_allowed', 'Only an owner of the shop may do that.')
  }
  if (request.user.lacksStrength) {
    throw new AppError('not_allowed', 'In this shop that takes an owner who has signed in with more than a password. Set up a second factor or a passkey under “Your account”, and sign in with it.') // prettier-ignore
  }
}

/**
 * How often a minute one link of a message may be followed, or one person's choices sent. It is far more
 * than people do; whoever knows a link must not keep the database busy with it.
 */
export function limitPerToken(max = 120) {
  return {
    rateLimit: {
      max,
      timeWindow: '1 minute',
      keyGenerator: (request: FastifyRequest) => (request.params as { token: string }).token,
    },
  }
}

/** Requests that change nothing (RFC 9110, 9.2.1). */
export const SAFE_METHODS: ReadonlySet<string> = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Refuses writes that another site's page sends with our cookie. Browsers name the page's origin on
 * every such request; SameSite on the cookie is the second lock.
 */
export function sameOrigin({ publicUrl }: ServerContext) {
  return async (request: FastifyRequest): Promise<void> => {
    // A key is in no browser: no page of another site can send it along.
    if (SAFE_METHODS.has(request.method) || request.headers.authorization !== undefined) return
    const { origin, host } = request.headers
    const sender = origin === undefined ? null : originHost(origin)
    if (sender !== null && (sender === host || origin === new URL(publicUrl).origin)) return
    throw new AppError('wrong_origin', 'This came from another site, so nothing was done.')
  }
}

function originHost(origin: string): string | null {
  return URL.canParse(origin) ? new URL(origin).host : null
}

/**
 * Lets only requests with an API key through, before anything of their body is read, and notes whose
 * key it is.
 */
export function requireKey({ db }: ServerContext) {
  return async (request: FastifyRequest): Promise<void> => {
    const { shopId } = await keyHolderOf(db, request)
    request.keyShopId = shopId
  }
}

/** Whose key a request carries. Throws AppError `not_signed_in`, or `not_allowed` where the key may not do that. */
async function keyHolderOf(db: Database, request: FastifyRequest): Promise<KeyHolder> {
  const key = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1]
  const holder = key === undefined ? null : await holderOfKey(db, key)
  if (holder === null) {
    throw new AppError('not_signed_in', 'Send a valid API key as “Authorization: Bearer …”.')
  }
  const { method, routeOptions } = request
  const asked = method === 'HEAD' ? 'GET' : method
  const access = OPERATIONS.get(operationKey(asked, routeOptions.url ?? ''))?.access ?? 'person'
  if (access === 'person') throw new AppError('not_allowed', 'No key may do that: somebody has to sign in.')
  if (access !== 'open' && !holder.scopes.includes(access)) {
    throw new AppError('not_allowed', `This key may not do that. It takes one that may “${SCOPE_WORDS[access].name}”.`)
  }
  request.keyHolder = holder
  return holder
} // prettier-ignore
