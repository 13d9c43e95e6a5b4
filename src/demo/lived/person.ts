import type { CustomerData, OrderLineData } from '../../core/events/entities.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Facts, LineFacts } from '../../core/events/facts.ts'
import { HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { murmur3 } from '../../core/shared/hash.ts'
import { seededRandom, type Random } from '../../core/shared/seededRandom.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import { isToCustomer, type MessageStep } from '../../core/workflow/steps.ts'
import { demoEvent, type DemoEvent } from '../demoEvent.ts'
import { orderLife } from '../history.ts'
import { reviewOf } from '../moreLife.ts'
import { pullOf, readsMail } from './behaviour.ts'
import { linksOf } from './links.ts'
import { ownerOf, type Effects, type OneLife } from '../../core/life/oneLife.ts'
import type { LivedRun } from '../../core/life/lived.ts'
import type { LivedMessage, LivedPast } from './rows.ts'

/** Without letters and digits that are taken for one another, as where codes are really issued. */
const ALPHABET = Array.from('ABCDEFGHJKMNPQRSTUVWXYZ23456789')
/** Orders that a message brought have numbers of their own. */
const FIRST_BROUGHT = 50_000
const MOST_BROUGHT = 20

/** What one customer does of what workflows send them. */
export class Person implements Effects<DemoEvent> {
  readonly #random: Random
  readonly #customer: CustomerData
  readonly #until: Instant
  readonly #lived: LivedPast
  #orders = 0
  #told = 0
  /** Nobody orders twice because of two messages of one week. */
  #orderedUntil: Instant = 0

  constructor(events: readonly DemoEvent[], until: Instant, lived: LivedPast) {
    this.#customer = customerIn(events)
    this.#random = seededRandom(murmur3(`lives ${this.#customer.id}`))
    this.#until = until
    this.#lived = lived
  }

  issues: Effects<DemoEvent>['issues'] = (run, { step, expiresAt }, at) => {
    const instruction = run.workflow.program.instructions.get(step)
    if (instruction?.kind !== 'action' || instruction.step.kind !== 'coupon') {
      throw new RangeError(`There is no coupon at step ${step}`)
    }
    const code = instruction.step.pattern.replaceAll('#', () => this.#random.pick(ALPHABET))
    this.#lived.coupons.push({ run, step: instruction.step, code, at, expiresAt })
    return code
  }

  leaves: Effects<DemoEvent>['leaves'] = (run, step, facts, life) => {
    const instruction = run.workflow.program.instructions.get(step)
    const isHook = instruction?.kind === 'action' && instruction.step.kind === 'hook'
    if (instruction?.kind !== 'message' && !isHook)
      throw new RangeError(`Nothing leaves at ${step}`)
    const leaving = instruction.step
    if (instruction.kind !== 'message' || !isToCustomer(instruction.step)) {
      this.#handOver(run, leaving as MessageStep, facts, null)
      return life.notes(run, { kind: 'sent', step, to: leaving.kind })
    }
    const to = facts.customer.channels[instruction.step.kind].address
    const sent = this.#handOver(run, instruction.step, facts, to)
    if (to?.startsWith('bounce')) {
      sent.failed = true
      return life.notes(run, { kind: 'failed', step, error: '550 5.1.1 no such mailbox' })
    }
    life.notes(run, { kind: 'sent', step, to: to ?? '' })
    if (sent.channel === 'email') this.#reads(sent, instruction.step, facts, life)
    this.#acts(sent, facts, life)
  }

  #handOver(run: LivedRun, step: MessageStep, { now }: Facts, to: string | null): LivedMessage {
    const message: LivedMessage = {
      run,
      step: step.key,
      channel: step.kind,
      marketing: 'purpose' in step && step.purpose === 'marketing',
      to,
      at: now,
      failed: false,
      openedAt: null,
      clickedAt: null,
      told: [],
    }
    this.#lived.messages.push(message)
    return message
  }

  /** Opens, clicks and the like are told of by events, as a mail system would. */
  #reads(sent: LivedMessage, step: MessageStep, facts: Facts, life: OneLife<DemoEvent>): void {
    const links = linksOf(step, facts)
    const does = readsMail(this.#random, sent.marketing, links.length)
    const seen = life.messageOf(sent.run, sent.step)
    const tell = (
      type: EventType,
      after: number | null,
      { more = {}, marks = [] }: { more?: object; marks?: ('openedAt' | 'clickedAt')[] } = {},
    ): void => {
      if (after === null || sent.at + after > this.#until) return
      const message = { customerId: this.#customer.id, ...more }
      this.#told += 1
      const about = `${this.#customer.id}.${this.#told}`
      const event = demoEvent(type, sent.at + after, about, { message })
      sent.told.push(event)
      life.happens(event, () => {
        for (const mark of marks) {
          sent[mark] ??= event.at
          if (seen) seen[mark] ??= event.at
        }
      })
    }
    tell('message.bounced', does.returnedAfter, { more: { permanent: true } })
    tell('message.opened', does.openedAfter, { marks: ['openedAt'] })
    for (const { after, link } of does.clicks) {
      // Who clicks has seen it, whether or not the opening was noticed.
      tell('message.clicked', after, {
        more: { url: links[link] },
        marks: ['openedAt', 'clickedAt'],
      })
    }
    tell('message.unsubscribed', does.unsubscribedAfter)
    tell('message.complained', does.complainedAfter)
    tell('message.replied', does.repliedAfter)
  }

  /** What a message moves people to do beyond reading it. */
  #acts(sent: LivedMessage, facts: Facts, life: OneLife<DemoEvent>): void {
    const pull = pullOf(sent.run.workflow.program.definition.name, sent.step)
    const orders = this.#random.chance(pull.orders ?? 0)
    if (orders && sent.at > this.#orderedUntil && this.#orders < MOST_BROUGHT) {
      const after = this.#random.between(20, (pull.withinHours ?? 24) * 60) * MINUTE_MS
      this.#orderedUntil = sent.at + after
      this.#order(sent, sent.at + after, facts, life)
    }
    if (facts.order && this.#random.chance(pull.reviews ?? 0)) this.#review(sent, facts, life)
  }

  /** An order that would not have come: of what was left in the checkout, or of anything. */
  #order(sent: LivedMessage, at: Instant, { checkout }: Facts, life: OneLife<DemoEvent>): void {
    this.#orders += 1
    const index =
      FIRST_BROUGHT + (Number(this.#customer.id.slice(2)) - 1) * MOST_BROUGHT + this.#orders
    const coupon = this.#lived.coupons.findLast(({ run }) => run === sent.run)
    const isGood = coupon && (coupon.expiresAt === null || coupon.expiresAt > at)
    const given = {
      couponCodes: isGood ? [coupon.code] : [],
      ...(checkout && {
        currency: checkout.currency,
        totalMinor: checkout.totalMinor,
        lines: checkout.lines.map(lineData),
      }),
    }
    for (const event of orderLife(this.#random, this.#customer, at, index, given)) {
      if (event.at <= this.#until) life.happens(event)
    }
  }

  #review(sent: LivedMessage, { order }: Facts, life: OneLife<DemoEvent>): void {
    if (!order) return
    const { id, number, currency, totalMinor, lines } = order
    const about = { id, number, currency, totalMinor, customerId: this.#customer.id, lines: lines.map(lineData) } // prettier-ignore
    const { data } = reviewOf(this.#random, about, sent.at).event
    const at = sent.at + this.#random.between(1, 70) * HOUR_MS
    if (at <= this.#until) life.happens(demoEvent('review.submitted', at, `r-${id}.asked`, data))
  }
}

function customerIn(events: readonly DemoEvent[]): CustomerData {
  for (const { event } of events) {
    if (event.type === 'customer.created' && 'customer' in event.data && event.data.customer) {
      return event.data.customer
    }
  }
  const [first] = events
  return { id: first ? ownerOf(first) : '' }
}

const lineData = ({ productId, title, category, quantity, unitPriceMinor, startsAt }: LineFacts): OrderLineData => ({
  productId,
  title,
  category,
  quantity,
  unitPriceMinor: unitPriceMinor ?? 0,
  startsAt: startsAt === null ? null : formatInstant(startsAt),
}) // prettier-ignore
