import type { FastifyReply, FastifyRequest } from 'fastify'
import { findSession, rotateSession, shopOfApiKey } from '../backend/accounts/index.ts'
import { AppError } from '../backend/platform/errors.ts'
import type { ServerContext } from './context.ts'

const LIFETIME_S = 14 * 24 * 3600

/** The session cookie. Over https its name binds it to this host (RFC 6265bis, __Host-). */
export function sessionCookie(publicUrl: string) {
  const secure = publicUrl.startsWith('https://')
  return {
    name: secure ? '__Host-yomble' : 'yomble_session',
    options: { path: '/', httpOnly: true, secure, sameSite: 'lax' as const, maxAge: LIFETIME_S },
  }
}

/** Lets only signed-in people through, and gives an old session a new token on the way. */
export function requireUser({ db, publicUrl }: ServerContext) {
  const cookie = sessionCookie(publicUrl)
  return async (request: FastifyRequest, reply: FastifyReply): Promise<void> => {
    const token = request.cookies[cookie.name]
    const found = token ? await findSession(db, token) : null
    if (!token || !found) throw new AppError('not_signed_in', 'Sign in to go on.')
    request.user = found.user
    if (!found.stale) return
    const rotated = await rotateSession(db, token)
    if (rotated) reply.setCookie(cookie.name, rotated.token, cookie.options)
  }
}

/** Staff may look and act at the counter; building and switching on is for marketers. */
export async function requireMarketer(request: FastifyRequest): Promise<void> {
  if (request.user.role !== 'marketer') {
    throw new AppError('not_allowed', 'Your account may look at workflows but not change them.')
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

const SAFE_METHODS = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Refuses writes that another site's page sends with our cookie. Browsers name the page's origin on
 * every such request; SameSite on the cookie is the second lock.
 */
export function sameOrigin({ publicUrl }: ServerContext) {
  return async (request: FastifyRequest): Promise<void> => {
    if (SAFE_METHODS.has(request.method)) return
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
    const key = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1]
    const shopId = key === undefined ? null : await shopOfApiKey(db, key)
    if (shopId === null) {
      throw new AppError('not_signed_in', 'Send a valid API key as “Authorization: Bearer …”.')
    }
    request.keyShopId = shopId
  }
}
