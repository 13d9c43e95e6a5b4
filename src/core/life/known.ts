import type { CustomerData } from '../events/entities.ts'
import type { CustomerFacts } from '../events/facts.ts'
import type { Suppression } from '../channels/catalogue.ts'
import type { Instant } from '../shared/time.ts'
import type { ToldEvent } from './lived.ts'

/** What is known of a customer when they are first heard of. */
function firstKnown(customer: CustomerData, at: Instant): CustomerFacts {
  const { id, email, firstName, lastName, phone, zone, country, language, birthday } = customer
  return {
    id,
    email: email ?? null,
    firstName: firstName ?? null,
    lastName: lastName ?? null,
    phone: phone ?? null,
    zone: zone ?? null,
    country: country ?? null,
    language: language ?? null,
    birthday: birthday ?? null,
    createdAt: at,
    lastOrderAt: null,
    tags: [],
    lists: [],
    properties: {},
    channels: {
      email: { address: email ?? null, consent: customer.emailConsent ?? null, suppressed: null },
      sms: { address: phone ?? null, consent: customer.smsConsent ?? null, suppressed: null },
    },
  }
}

/** What is known of a customer after an event of theirs. Null as long as nobody has told of them. */
export function knownAfter(
  known: CustomerFacts | null,
  { at, event: { type, data } }: ToldEvent,
): CustomerFacts | null {
  if (type === 'customer.created' && 'customer' in data && data.customer) {
    return firstKnown(data.customer, at)
  }
  if (known === null) return null
  if (type === 'order.placed') return { ...known, lastOrderAt: at }
  if (type === 'consent.changed' && 'consent' in data) {
    const { channel, given } = data.consent
    const before = known.channels[channel]
    return { ...known, channels: { ...known.channels, [channel]: { ...before, consent: given } } }
  }
  const suppressed = SUPPRESSED_BY[type]
  return suppressed ? withoutMail(known, suppressed) : known
}

const SUPPRESSED_BY: Readonly<Record<string, Suppression>> = {
  'message.bounced': 'bounced',
  'message.complained': 'complained',
  'message.unsubscribed': 'unsubscribed',
}

function withoutMail(known: CustomerFacts, suppressed: Suppression): CustomerFacts {
  const { email, sms } = known.channels
  const consent = suppressed === 'bounced' ? email.consent : false
  return { ...known, channels: { sms, email: { ...email, consent, suppressed } } }
}
