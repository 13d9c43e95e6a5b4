import { escapeHtml, type Preferences } from '../backend/messages/index.ts'
import type { Shop } from '../backend/shop/index.ts'
import { clockWords } from '../core/words/quantities.ts'
import { shopFrame } from './shopPage.ts'

/** The page behind "No more of these": stop all at once, or choose; and what was chosen so far. */
export function preferencesPage(
  shop: Shop,
  token: string,
  { email, sms, hasPhone, history }: Preferences,
  done?: string,
): string {
  const name = escapeHtml(shop.name)
  const path = `/u/${encodeURIComponent(token)}`
  const box = (channel: 'email' | 'sms', label: string, given: boolean | null) =>
    `<p><label><input type="checkbox" name="${channel}" value="yes"${given ? ' checked' : ''}> ${label}</label></p>`
  const stop =
    email === false
      ? ''
      : `<form method="post" action="${path}"><input type="hidden" name="List-Unsubscribe" value="One-Click"><button>No more news by email</button></form>`
  const rows = history.map(
    ({ at, channel, given }) =>
      `<li>${escapeHtml(clockWords(at, shop.zone))}: ${given ? 'yes' : 'no'} to ${channel === 'email' ? 'email' : 'text messages'}</li>`,
  )
  return shopFrame(
    shop,
    `${done === undefined ? '' : `<p role="status">${escapeHtml(done)}</p>`}
<p>News and offers from ${name}. Messages about your orders come whatever you choose.</p>
${stop}
<h2>Or choose</h2>
<form method="post" action="${path}/choices">
${box('email', 'by email', email)}
${hasPhone ? box('sms', 'as text messages to your phone', sms) : ''}
<button>Keep my choices</button></form>
${rows.length === 0 ? '' : `<h2>What you have chosen so far</h2><ul>${rows.join('')}</ul>`}`,
  )
}
