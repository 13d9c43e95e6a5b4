/** Whom a channel reaches. Only customers have a say in it: gates ask for their address and consent. */
export type Reaches = 'customer' | 'staff' | 'system'

interface ChannelSpec {
  reaches: Reaches
  /** What carries it: only of mail there is a subject, a file to keep and a test to be had. */
  carrier: 'mail' | 'text' | 'http'
  /** How what leaves by it is called, and one of them in a heading. */
  label: string
  /** What is missing where somebody cannot be reached by it. */
  address: string
}

/**
 * The ways in which something leaves a workflow. A step that leaves by a channel has its name for a kind.
 * Adding one here is where to begin: the compiler then leads to its step, its address and consent, its
 * words, how it is prepared and handed over, and its form.
 */
export const CHANNELS = {
  email: { reaches: 'customer', carrier: 'mail', label: 'Email', address: 'email address' },
  sms: { reaches: 'customer', carrier: 'text', label: 'Text message', address: 'mobile number' },
  note: {
    reaches: 'staff',
    carrier: 'mail',
    label: 'Note to staff',
    address: 'address of the staff',
  },
  hook: {
    reaches: 'system',
    carrier: 'http',
    label: 'Call of another system',
    address: 'address of the system',
  },
} as const satisfies Record<string, ChannelSpec>

export type Channel = keyof typeof CHANNELS
type Reaching<Whom extends Reaches> = {
  [Name in Channel]: (typeof CHANNELS)[Name]['reaches'] extends Whom ? Name : never
}[Channel]

/** Those by which customers are written to: what leaves by them counts for the message gap and earnings. */
export type CustomerChannel = Reaching<'customer'>
/** Those by which somebody gets something to read. */
export type MessageChannel = Reaching<'customer' | 'staff'>

/** Those that mail carries. */
export type MailChannel = {
  [Name in Channel]: (typeof CHANNELS)[Name]['carrier'] extends 'mail' ? Name : never
}[Channel]

export const CHANNEL_NAMES = Object.keys(CHANNELS) as [Channel, ...Channel[]]

/** True for the name of a channel that reaches customers. */
export function reachesCustomers(name: string): name is CustomerChannel {
  return name in CHANNELS && CHANNELS[name as Channel].reaches === 'customer'
}

/** True for the name of a channel by which somebody gets something to read. */
export function isMessageChannel(name: string): name is MessageChannel {
  return name in CHANNELS && CHANNELS[name as Channel].reaches !== 'system'
}

/** True for the name of a channel that mail carries. */
export function isMailChannel(name: string): name is MailChannel {
  return name in CHANNELS && CHANNELS[name as Channel].carrier === 'mail'
}

export const CUSTOMER_CHANNELS = CHANNEL_NAMES.filter((name) => reachesCustomers(name)) as [
  CustomerChannel,
  ...CustomerChannel[],
]

/** Why an address must not be written to. */
export type Suppression = 'unsubscribed' | 'bounced' | 'complained'

/** How a customer can be reached by a channel. */
export interface Reachable {
  /** Null where none is known. */
  address: string | null
  /** Whether they agreed to marketing by it; null where they were never asked. */
  consent: boolean | null
  suppressed: Suppression | null
}
