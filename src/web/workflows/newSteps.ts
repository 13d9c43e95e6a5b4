import { type MessageChannel } from '../../core/channels/catalogue.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { withOwnLotteries } from '../../core/workflow/lotteries.ts'
import { freshKey } from '../../core/workflow/edit.ts'
import type { Arm, SplitBranch, Step, StepKind } from '../../core/workflow/steps.ts'
import { subjectOf } from '../../core/workflow/trigger.ts'

export interface Sender {
  name: string
  address: string
}

/** A new step of a kind, with a key of its own. */
export function newStep(definition: Definition, kind: StepKind, sender: Sender): Step {
  const key = freshKey(definition, kind.toLowerCase())
  switch (kind) {
    case 'email':
    case 'sms':
    case 'note':
      return newMessage(key, kind, sender)
    case 'wait':
      return { key, kind, for: 'P1D' }
    case 'until':
      return { key, kind, until: firstUntil(definition), ifPast: 'goOn' }
    case 'waitFor':
      return {
        key,
        kind,
        event: 'order.placed',
        about: 'customer',
        limit: 'P7D',
        came: [],
        otherwise: [],
      }
    case 'split':
      return { key, kind, branches: [newBranch(definition, [])], otherwise: [] }
    case 'experiment':
      return {
        key,
        kind,
        name: 'New experiment',
        lottery: newLottery(),
        arms: newArms(definition),
      }
    case 'coupon':
    case 'end':
    case 'hook':
    case 'list':
    case 'property':
    case 'tag':
      return newAction(key, kind)
  }
}

function newMessage(key: string, kind: MessageChannel, sender: Sender): Step {
  const name = 'New message'
  switch (kind) {
    case 'sms':
      return { key, kind, name, purpose: 'marketing', body: '' }
    case 'note':
      return { key, kind, name: 'New note', to: [], subject: '', body: '' }
    case 'email': {
      const words = { subject: '', previewText: '', body: '' }
      return { key, kind, name, purpose: 'marketing', format: 'letter', sender, ...words }
    }
  }
}

function newAction(
  key: string,
  kind: 'coupon' | 'tag' | 'list' | 'property' | 'hook' | 'end',
): Step {
  switch (kind) {
    case 'coupon':
      return {
        key,
        kind,
        name: 'New coupon',
        pattern: 'BEE-######',
        discount: { kind: 'percent', percent: 10 },
        expiresAfter: 'PT24H',
      }
    case 'tag':
      return { key, kind, change: 'add', tag: '' }
    case 'list':
      return { key, kind, change: 'add', list: '' }
    case 'property':
      return { key, kind, property: '', value: '' }
    case 'hook':
      return { key, kind, name: 'New webhook', url: '' }
    case 'end':
      return { key, kind }
  }
}

/** The date nearest at hand for what the workflow is about. */
function firstUntil({ trigger }: Definition): Extract<Step, { kind: 'until' }>['until'] {
  const subject = subjectOf(trigger)
  const field =
    subject === 'subscription'
      ? 'subscription.nextPaymentAt'
      : subject === 'order'
        ? 'order.firstDate'
        : 'customer.lastOrderAt'
  return { kind: 'field', field, offset: { direction: 'before', duration: 'P2D' }, at: '09:00' }
}

/** A name for an experiment's lottery that no other experiment has. */
export function newLottery(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(6))
  return `lottery-${[...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
}

const ORDINALS = ['First', 'Second', 'Third', 'Fourth', 'Fifth', 'Sixth']
const ORDERS = ORDINALS.map((ordinal, index) => ({
  name: `${ordinal} order`,
  when: ordersEver({ op: 'exactly', times: index + 1 }),
}))
/** What tells people apart who have not ordered by what they are in the workflow for. */
const BUYERS = [
  { name: 'Never ordered', when: ordersEver({ op: 'exactly', times: 0 }) },
  { name: 'Ordered once', when: ordersEver({ op: 'exactly', times: 1 }) },
]

/** A new path of a split beside those there are: by the number of orders, the split made most often. */
export function newBranch(
  definition: Definition,
  beside: readonly Pick<SplitBranch, 'name'>[],
): SplitBranch {
  const { trigger } = definition
  const choices = subjectOf(trigger) === 'order' ? ORDERS : BUYERS
  const free = choices.find(({ name }) => isFree(name, beside))
  const key = freshKey(definition, 'branch')
  if (free) return { key, ...free, steps: [] }
  const times = beside.length + 1
  const name = freeName((number) => `Path ${number}`, beside)
  return { key, name, when: ordersEver({ op: 'exactly', times }), steps: [] }
}

/** A new arm of an experiment beside those there are. */
export function newArm(definition: Definition, beside: readonly Pick<Arm, 'key' | 'name'>[]): Arm {
  const others = beside.map(({ key }) => key)
  return {
    key: freshKey(definition, 'arm', others),
    name: freeName((number) => `Arm ${String.fromCharCode(64 + number)}`, beside),
    weight: 50,
    steps: [],
  }
}

function newArms(definition: Definition): Arm[] {
  const first = newArm(definition, [])
  return [first, newArm(definition, [first])]
}

const isFree = (name: string, beside: readonly { name: string }[]): boolean =>
  !beside.some((other) => other.name.trim().toLowerCase() === name.toLowerCase())

function freeName(named: (number: number) => string, beside: readonly { name: string }[]): string {
  let number = 1
  while (!isFree(named(number), beside)) number += 1
  return named(number)
}

function ordersEver(count: Extract<Condition, { kind: 'history' }>['count']): Condition {
  return {
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count,
    window: { kind: 'ever' },
  }
}

const UNDONE_BY: Partial<Record<string, EventType>> = {
  order: 'order.cancelled',
  subscription: 'subscription.renewed',
}

/** The exclusion to begin with: what the workflow is about was undone since entry. */
export function firstExclusion({ trigger }: Definition): Condition {
  const undone = UNDONE_BY[subjectOf(trigger)]
  return {
    kind: 'history',
    event: undone ?? 'order.placed',
    about: undone ? 'subject' : 'customer',
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
  }
}

/** A workflow that is made after another: its experiments are its own. */
export const madeAfter = (definition: Definition): Definition => ({
  ...definition,
  steps: withOwnLotteries(definition.steps, () => true, newLottery),
})

/** A workflow with nothing in it yet. */
export function blankDefinition(): Definition {
  return {
    format: 'yomble.workflow',
    formatVersion: 1,
    name: 'New workflow',
    description: '',
    priority: 50,
    trigger: { kind: 'event', event: 'order.placed' },
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    steps: [],
  }
}
