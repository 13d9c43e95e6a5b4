import { plural } from '../words/quantities.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'

/** Something that is not as it was, and that nobody would see by themselves. */
export interface Alert {
  code: AlertCode
  /** What it is about: a workflow's or a connection's id; empty where it is about the whole shop. */
  about: string
  /** What is the case, in a sentence. */
  says: string
  /** Where it is seen to, as an address of a screen. */
  to: string
}
export const ALERT_CODES = ['stuck', 'failed', 'complaints', 'bounces', 'connectionSilent', 'workflowSilent'] as const // prettier-ignore
export type AlertCode = (typeof ALERT_CODES)[number]

/** What is looked at, all of one shop. All times are of the shop's clock. */
export interface AlertFacts {
  now: Instant
  /** When the message that waits longest to leave was decided; null where none waits. */
  oldestQueuedAt: Instant | null
  queued: number
  /** Messages that were given up, or may not have arrived, and that nobody has seen to. */
  failed: number
  /** Why the last of them did not leave. */
  lastError: string | null
  /** Mails of the last seven days. */
  mails: { sent: number; bounced: number; complained: number }
  connections: readonly { id: string; name: string; isOn: boolean; arrivals: readonly Instant[] }[]
  /** Of each live workflow: messages of the last seven days, and of the four weeks before those. */
  workflows: readonly { id: string; name: string; lastWeek: number; fourWeeksBefore: number }[]
}

/** Mail that is handed over at once leaves within seconds; so long is longer than any short stop of a mail server. */
const STUCK_MS = 30 * MINUTE_MS
/** Common practice: large providers ask for less than 0.1 percent of complaints, and refuse senders from 0.3 on. */
const MOST_COMPLAINTS = 0.003
const LEAST_COMPLAINTS = 3
/** Common practice: above five percent of bounces a list is taken for an old or a bought one. */
const MOST_BOUNCES = 0.05
const LEAST_BOUNCES = 10
/** Fewer arrivals say nothing of how often something comes. */
const LEAST_ARRIVALS = 10
/** Silence is told from a pause by how long the longest pause was so far. */
const TIMES_LONGEST_PAUSE = 3
/** By chance alone nothing comes of five that are expected in less than one of a hundred weeks (Poisson). */
const LEAST_EXPECTED = 5

/** What somebody has to be told of, worst first. */
export function alertsOf(facts: AlertFacts): Alert[] {
  return [...ofMessages(facts), ...ofMails(facts), ...ofConnections(facts), ...ofWorkflows(facts)]
}

function ofMessages({ now, oldestQueuedAt, queued, failed, lastError }: AlertFacts): Alert[] {
  const alerts: Alert[] = []
  if (oldestQueuedAt !== null && now - oldestQueuedAt > STUCK_MS) {
    const says = `${plural(queued, 'message')} cannot leave, the oldest for ${plural(Math.floor((now - oldestQueuedAt) / MINUTE_MS), 'minute')}.${because(lastError)}` // prettier-ignore
    alerts.push({ code: 'stuck', about: '', says, to: '/settings/status' })
  }
  if (failed > 0) {
    const says = `${plural(failed, 'message')} could not be sent, or may not have arrived, and ${failed === 1 ? 'waits' : 'wait'} for somebody to say what becomes of ${failed === 1 ? 'it' : 'them'}.${because(lastError)}` // prettier-ignore
    alerts.push({ code: 'failed', about: '', says, to: '/ledger?show=attention' })
  }
  return alerts
}

const because = (error: string | null): string => (error === null ? '' : ` The last said: ${error}`)

function ofMails({ mails: { sent, bounced, complained } }: AlertFacts): Alert[] {
  const alerts: Alert[] = []
  if (complained >= LEAST_COMPLAINTS && complained > sent * MOST_COMPLAINTS) {
    const says = `${complained} of ${plural(sent, 'mail')} of the last seven days were called spam by who got them. From three in a thousand on, providers refuse all mail of a sender.` // prettier-ignore
    alerts.push({ code: 'complaints', about: '', says, to: '/today' })
  }
  if (bounced >= LEAST_BOUNCES && bounced > sent * MOST_BOUNCES) {
    const says = `${bounced} of ${plural(sent, 'mail')} of the last seven days came back. From five in a hundred on, providers take addresses for old or bought ones.` // prettier-ignore
    alerts.push({ code: 'bounces', about: '', says, to: '/today' })
  }
  return alerts
}

function ofConnections({ connections, now }: AlertFacts): Alert[] {
  return connections.flatMap(({ id, name, isOn, arrivals }) => {
    const last = arrivals.at(-1)
    if (!isOn || last === undefined || arrivals.length < LEAST_ARRIVALS) return []
    const pauses = arrivals.slice(1).map((at, index) => at - (arrivals[index] ?? at))
    const silence = now - last
    if (silence <= Math.max(DAY_MS, TIMES_LONGEST_PAUSE * Math.max(...pauses))) return []
    const says = `Nothing has come by the connection “${name}” for ${plural(Math.floor(silence / HOUR_MS), 'hour')}; before, the longest pause was ${plural(Math.ceil(Math.max(...pauses) / HOUR_MS), 'hour')}.` // prettier-ignore
    return [{ code: 'connectionSilent' as const, about: id, says, to: `/settings/connections/${id}` }] // prettier-ignore
  })
}

function ofWorkflows({ workflows }: AlertFacts): Alert[] {
  return workflows.flatMap(({ id, name, lastWeek, fourWeeksBefore }) => {
    const expected = fourWeeksBefore / 4
    if (lastWeek > 0 || expected < LEAST_EXPECTED) return []
    const says = `“${name}” has sent nothing for seven days; before, it sent ${Math.round(expected)} messages a week.` // prettier-ignore
    return [{ code: 'workflowSilent' as const, about: id, says, to: `/workflows/${id}` }]
  })
}
