import { z } from 'zod'
import { escapeHtml, readUnsubscribeToken, unsubscribe } from '../../backend/messages/index.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop } from '../../backend/shop/index.ts'
import type { App, ServerContext } from '../context.ts'

const params = z.object({ token: z.string().max(1000) })
const formBody = z.looseObject({ 'List-Unsubscribe': z.literal('One-Click') })

/**
 * The way out of marketing mail (RFC 8058): a POST with the agreed body unsubscribes, a GET only
 * shows the page with the button, since scanners open every link.
 */
export function unsubscribeRoutes(app: App, { db, config }: ServerContext): void {
  app.addContentTypeParser(
    'application/x-www-form-urlencoded',
    { parseAs: 'string' },
    (_request, body, done) => {
      done(null, Object.fromEntries(new URLSearchParams(body as string)))
    },
  )

  const whoFor = (token: string) => {
    const who = readUnsubscribeToken(config.LINK_SECRET, token)
    if (!who) throw new AppError('not_found', 'This link is not one of ours.')
    return who
  }

  app.get('/u/:token', { schema: { params } }, async ({ params: { token } }, reply) => {
    const shop = await findShop(db, whoFor(token).shopId)
    const form = `<form method="post"><input type="hidden" name="List-Unsubscribe" value="One-Click">
      <button>No more of these</button></form>`
    return reply
      .type('text/html')
      .send(
        page(
          shop.name,
          `<p>Stop news and offers from ${escapeHtml(shop.name)}? Messages about your orders still come.</p>${form}`,
        ),
      )
  })

  app.post(
    '/u/:token',
    { schema: { params, body: formBody } },
    async ({ params: { token } }, reply) => {
      const who = whoFor(token)
      await unsubscribe(db, who)
      const shop = await findShop(db, who.shopId)
      return reply
        .type('text/html')
        .send(page(shop.name, '<p>Done. You will get no more news and offers.</p>'))
    },
  )
}

function page(shopName: string, body: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escapeHtml(shopName)}</title><body style="font:16px/1.5 sans-serif;max-width:34rem;margin:4rem auto;padding:0 1rem">
<h1 style="font-size:1.25rem">${escapeHtml(shopName)}</h1>${body}</body></html>`
}
