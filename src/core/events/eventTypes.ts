/**
 * The event types Yomble understands, with the words the interface uses for them: its name, what
 * happens, and what has been done to the thing.
 */
export const EVENT_TYPES = {
  'order.placed': { label: 'order placed', happened: 'an order is placed', past: 'placed' },
  'order.paid': { label: 'order paid', happened: 'an order is paid', past: 'paid' },
  'order.fulfilled': {
    label: 'order fulfilled',
    happened: 'an order is fulfilled',
    past: 'fulfilled',
  },
  'order.cancelled': {
    label: 'order cancelled',
    happened: 'an order is cancelled',
    past: 'cancelled',
  },
  'order.refunded': { label: 'order refunded', happened: 'an order is refunded', past: 'refunded' },
  'order.payment_failed': {
    label: 'payment failed',
    happened: 'the payment of an order fails',
    past: 'not paid: payment failed',
  },
  'customer.created': {
    label: 'customer created',
    happened: 'a customer is created',
    past: 'created',
  },
} as const

export type EventType = keyof typeof EVENT_TYPES

export const EVENT_TYPE_NAMES = Object.keys(EVENT_TYPES) as [EventType, ...EventType[]]

/** True for events that are about an order and carry it. */
export function isOrderEvent(type: EventType): boolean {
  return type.startsWith('order.')
}
