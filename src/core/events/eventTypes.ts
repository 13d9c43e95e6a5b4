/** The event types Yomble understands, with the words the interface uses for them. */
export const EVENT_TYPES = {
  'order.placed': { label: 'order placed', happened: 'an order is placed' },
  'order.paid': { label: 'order paid', happened: 'an order is paid' },
  'order.fulfilled': { label: 'order fulfilled', happened: 'an order is fulfilled' },
  'order.cancelled': { label: 'order cancelled', happened: 'an order is cancelled' },
  'order.refunded': { label: 'order refunded', happened: 'an order is refunded' },
  'order.payment_failed': { label: 'payment failed', happened: 'the payment of an order fails' },
  'customer.created': { label: 'customer created', happened: 'a customer is created' },
} as const

export type EventType = keyof typeof EVENT_TYPES

export const EVENT_TYPE_NAMES = Object.keys(EVENT_TYPES) as [EventType, ...EventType[]]

/** True for events that are about an order and carry it. */
export function isOrderEvent(type: EventType): boolean {
  return type.startsWith('order.')
}
