import type { Preferences } from '../backend/messages/index.ts'
import type { Shop } from '../backend/shop/index.ts'
import { clockWords } from '../core/words/quantities.ts'
import { html, type Html } from './html.ts'
import { shopFrame } from './shopPage.ts'

/** The page behind "No more of these": stop all at once, or choose; and what was chosen so far. */
export function preferencesPage(
  shop: Shop,
  token: string,
  { email, sms, hasPhone, history }: Preferences,
  done?: string,
): string {
  const path = `/u/${encodeURIComponent(token)}`
  const stop = html`<form method="post" action="${path}">
    <input type="hidden" name="List-Unsubscribe" value="One-Click" /><button>
      No more news by email
    </button>
  </form>`
  return shopFrame(
    shop,
    html`${done === undefined ? null : html`<p role="status">${done}</p>`}
      <p>News and offers from ${shop.name}. Messages about your orders come whatever you choose.</p>
      ${email === false ? null : stop}
      <h2>Or choose</h2>
      <form method="post" action="${path}/choices">
        ${box('email', 'by email', email)}
        ${hasPhone ? box('sms', 'as text messages to your phone', sms) : null}
        <button>Keep my choices</button>
      </form>
      ${history.length === 0 ? null : chosenSoFar(shop, history)}`,
  )
}

const box = (channel: string, label: string, given: boolean | null): Html =>
  html`<p>
    <label
      ><input type="checkbox" name="${channel}" value="yes" ${given ? html` checked` : null} />
      ${label}</label
    >
  </p>`

function chosenSoFar({ zone }: Shop, history: Preferences['history']): Html {
  const lines = history.map(({ at, channel, given }) => {
    const what = channel === 'email' ? 'email' : 'text messages'
    return html`<li>${clockWords(at, zone)}: ${given ? 'yes' : 'no'} to ${what}</li>`
  })
  return html`<h2>What you have chosen so far</h2>
    <ul>
      ${lines}
    </ul>`
}
