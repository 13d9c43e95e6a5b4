import { sql } from 'drizzle-orm'
import {
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
} from 'drizzle-orm/pg-core'
import type { EventData } from '../../core/events/cloudEvent.ts'
import type {
  OrderLineData,
  OrderStatus,
  SubscriptionData,
  SubscriptionStatus,
} from '../../core/events/entities.ts'
import type { MessageCap, OrderDetails, ShopHoldout } from '../../core/events/facts.ts'
import type { Brand } from '../../core/messages/brand.ts'
import type { Retention } from '../../core/people/retention.ts'
import type { Instant } from '../../core/shared/time.ts'
import { instant, shopId } from '../platform/columns.ts'

/** A holdout of the whole shop; `until` is null while it goes on. */
export interface KeptHoldout extends ShopHoldout {
  until: Instant | null
}

export const shops = pgTable('shops', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** IANA zone; the shop's times are shown in it. */
  zone: text('zone').notNull(),
  currency: text('currency').notNull(),
  locale: text('locale').notNull(),
  defaultSenderName: text('default_sender_name').notNull(),
  defaultSenderAddress: text('default_sender_address').notNull(),
  /** The least time between two marketing messages to one person, as an ISO 8601 duration. */
  messageGap: text('message_gap'),
  /** At most so many marketing messages to one person in so many days. */
  caps: jsonb('caps').$type<MessageCap[]>().notNull().default([]),
  /** Local hours of the recipient's in which no marketing leaves. */
  quietFrom: text('quiet_from'),
  quietTo: text('quiet_to'),
  /** What its designed messages have in common; null for what a shop begins with. */
  brand: jsonb('brand').$type<Brand>(),
  /** Which of its built-in notices a workflow has taken over, by the notice's key. */
  notices: jsonb('notices').$type<Record<string, string>>().notNull().default({}),
  /** Of the whole shop, the one that goes on last; those before it are over. */
  holdouts: jsonb('holdouts').$type<KeptHoldout[]>().notNull().default([]),
  /** Where staff look at an order, with {id} in the place of its id. */
  backOfficeUrl: text('back_office_url'),
  /** Where customers look at an order of theirs, with {id} or {number} in its place. */
  orderPageUrl: text('order_page_url'),
  /** How many days each kind of thing is kept; what is left out is kept for good. */
  retention: jsonb('retention').$type<Retention>().notNull().default({}),
  /** Nobody puts a workflow live alone: another has to have asked for it. */
  secondPerson: boolean('second_person').notNull().default(false),
  /** What only owners may do takes one who has signed in with more than a password. */
  strongOwners: boolean('strong_owners').notNull().default(false),
  /** When it was last gone through for what has become too old; null since terms changed. */
  retainedAt: instant('retained_at'),
  /** Since when it is being moved to another cell, in real time: nothing more is begun for it here. Null but for that. */
  movingSince: instant('moving_since'),
  /** Keys the digests by which people who were erased are known again; null until the first was. */
  erasureKey: text('erasure_key'),
  /** Signs the hooks of this shop (Standard Webhooks). */
  hookSecret: text('hook_secret'),
  /** Where a clock moved by hand stands; null when the shop goes by real time. */
  clockNow: instant('clock_now'),
  /** Where it is on its way to; null when it stands still. */
  clockTarget: instant('clock_target'),
})

export const customers = pgTable(
  'customers',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    email: text('email'),
    firstName: text('first_name'),
    lastName: text('last_name'),
    phone: text('phone'),
    /** The same as E.164 has it, where text messages can reach it. */
    mobile: text('mobile'),
    zone: text('zone'),
    country: text('country'),
    language: text('language'),
    /** Month and day: `04-17`. */
    birthday: text('birthday'),
    /** Marketing by email and by text message as the shop has it: yes, no, or never asked. */
    emailRecorded: boolean('email_recorded'),
    smsRecorded: boolean('sms_recorded'),
    /** The person's own last word on it, when and how it was said. It outweighs the shop's. */
    emailSaid: boolean('email_said'),
    emailSaidAt: instant('email_said_at'),
    emailSaidHow: text('email_said_how'),
    smsSaid: boolean('sms_said'),
    smsSaidAt: instant('sms_said_at'),
    smsSaidHow: text('sms_said_how'),
    /** What follows from both. */
    mayEmail: boolean('may_email').generatedAlwaysAs(sql`coalesce(email_said, email_recorded)`),
    mayText: boolean('may_text').generatedAlwaysAs(sql`coalesce(sms_said, sms_recorded)`),
    createdAt: instant('created_at'),
    lastOrderAt: instant('last_order_at'),
    /** The shop's own tags. */
    tags: jsonb('tags').$type<string[]>().notNull().default([]),
    /** What workflows have added (true) or removed (false); goes before the shop's tags. */
    tagChanges: jsonb('tag_changes').$type<Record<string, boolean>>().notNull().default({}),
    lists: jsonb('lists').$type<string[]>().notNull().default([]),
    properties: jsonb('properties').$type<Record<string, string>>().notNull().default({}),
    /** No marketing from any workflow before that: somebody of the shop asked for it. */
    quietUntil: instant('quiet_until'),
    /** The time of the newest event that told of each field. */
    recordedAt: jsonb('recorded_at').$type<Record<string, number>>().notNull().default({}),
    /** The time of the newest event that told of them. */
    asOf: instant('as_of').notNull(),
    /** What they are looked for by. */
    search: text('search').generatedAlwaysAs(
      sql`coalesce(first_name || ' ', '') || coalesce(last_name || ' ', '') || coalesce(email || ' ', '') || coalesce(phone, '')`,
    ),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('customers_email').on(table.shopId, sql`lower(email)`),
    index('customers_search').using('gin', sql`${table.search} gin_trgm_ops`),
    index('customers_last_order').on(table.shopId, table.lastOrderAt),
  ],
)

/** Addresses that do not exist, whoever has them: nothing is written to them any more. */
export const deadAddresses = pgTable(
  'dead_addresses',
  {
    shopId: shopId(),
    /** In lower case. */
    address: text('address').notNull(),
    /** When it was found out, by the shop clock. */
    since: instant('since').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.address] })],
)

/**
 * Who was erased: digests of their id, address and phone number, so that what comes in late does not bring them back. Rows
 * hold nothing else of them.
 */
export const erasures = pgTable(
  'erasures',
  {
    shopId: shopId(),
    /** Keyed with the shop's erasure key. */
    digest: text('digest').notNull(),
    /** When, by the shop clock, and who did it. */
    erasedAt: instant('erased_at').notNull(),
    person: text('person').notNull(),
    /** When they came back by themselves: what is told of them from then on is kept. */
    returnedAt: instant('returned_at'),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.digest] })],
)

export const products = pgTable(
  'products',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    title: text('title').notNull(),
    category: text('category'),
    priceMinor: instant('price_minor').notNull(),
    currency: text('currency').notNull(),
    url: text('url'),
    imageUrl: text('image_url'),
    inStock: boolean('in_stock').notNull().default(true),
    /** The time of the newest event that told of these three. */
    detailAsOf: instant('detail_as_of').notNull().default(0),
    /** When it was first heard of. */
    firstSeenAt: instant('first_seen_at'),
    asOf: instant('as_of').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

export const orders = pgTable(
  'orders',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    number: text('number').notNull(),
    customerId: text('customer_id').notNull(),
    status: text('status').$type<OrderStatus>().notNull(),
    currency: text('currency').notNull(),
    totalMinor: instant('total_minor').notNull(),
    shippingCountry: text('shipping_country'),
    shippingRegion: text('shipping_region'),
    paymentMethod: text('payment_method'),
    trackingUrl: text('tracking_url'),
    couponCodes: jsonb('coupon_codes').$type<string[]>().notNull().default([]),
    /** What is only shown: amounts the total is made of, addresses. */
    details: jsonb('details').$type<OrderDetails>().notNull().default({}),
    placedAt: instant('placed_at'),
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('orders_customer').on(table.shopId, table.customerId),
    index('orders_newest').on(table.shopId, table.asOf),
    index('orders_placed').on(table.shopId, table.placedAt),
    index('orders_number').using('gin', sql`${table.number} gin_trgm_ops`),
  ],
)

export const orderLines = pgTable(
  'order_lines',
  {
    shopId: shopId(),
    orderId: text('order_id').notNull(),
    position: integer('position').notNull(),
    productId: text('product_id').notNull(),
    title: text('title').notNull(),
    category: text('category'),
    tags: jsonb('tags').$type<string[]>().notNull().default([]),
    quantity: integer('quantity').notNull(),
    unitPriceMinor: instant('unit_price_minor').notNull(),
    startsAt: instant('starts_at'),
    /** Which kind of it, where it can be looked at, and its picture: only shown. */
    variant: text('variant'),
    url: text('url'),
    imageUrl: text('image_url'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.orderId, table.position] }),
    index('order_lines_start')
      .on(table.shopId, table.startsAt)
      .where(sql`starts_at is not null`),
  ],
)

/** Baskets and checkouts as they are now. */
export const carts = pgTable(
  'carts',
  {
    shopId: shopId(),
    kind: text('kind', { enum: ['basket', 'checkout'] }).notNull(),
    id: text('id').notNull(),
    customerId: text('customer_id').notNull(),
    currency: text('currency').notNull(),
    totalMinor: instant('total_minor').notNull(),
    url: text('url'),
    lines: jsonb('lines').$type<OrderLineData[]>().notNull(),
    startedAt: instant('started_at').notNull(),
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.kind, table.id] }),
    index('carts_customer').on(table.shopId, table.customerId),
  ],
)

export const subscriptions = pgTable(
  'subscriptions',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    customerId: text('customer_id').notNull(),
    status: text('status').$type<SubscriptionStatus>().notNull(),
    productId: text('product_id').notNull(),
    title: text('title').notNull(),
    category: text('category'),
    amountMinor: instant('amount_minor').notNull(),
    currency: text('currency').notNull(),
    interval: text('interval').$type<SubscriptionData['interval']>().notNull(),
    automatic: boolean('automatic'),
    paymentMethod: text('payment_method'),
    startedAt: instant('started_at'),
    nextPaymentAt: instant('next_payment_at'),
    endsAt: instant('ends_at'),
    trialEndsAt: instant('trial_ends_at'),
    url: text('url'),
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('subscriptions_customer').on(table.shopId, table.customerId),
    index('subscriptions_payment').on(table.shopId, table.nextPaymentAt),
    index('subscriptions_end').on(table.shopId, table.endsAt),
    index('subscriptions_trial').on(table.shopId, table.trialEndsAt),
  ],
)

/** Events that came and were refused, for whoever has to find out why; the newest of them. */
export const refusedEvents = pgTable(
  'refused_events',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    receivedAt: instant('received_at').notNull(),
    /** The name of the API key that sent it. */
    sender: text('sender').notNull(),
    /** As it came, if it is not too long. */
    event: json('event').notNull(),
    problems: jsonb('problems').$type<{ path: string; message: string }[]>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

export const reviews = pgTable(
  'reviews',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    customerId: text('customer_id').notNull(),
    orderId: text('order_id'),
    productId: text('product_id'),
    title: text('title'),
    category: text('category'),
    stars: integer('stars').notNull(),
    text: text('text'),
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('reviews_customer').on(table.shopId, table.customerId),
  ],
)

export const events = pgTable(
  'events',
  {
    shopId: shopId(),
    /** The order of arrival. */
    seq: instant('seq').notNull().generatedAlwaysAsIdentity(),
    source: text('source').notNull(),
    eventId: text('event_id').notNull(),
    type: text('type').notNull(),
    /** When it happened, by its sender. */
    time: instant('time').notNull(),
    /** When it arrived, by the shop clock. */
    receivedAt: instant('received_at').notNull(),
    customerId: text('customer_id').notNull(),
    /** The order, basket, checkout, subscription or review it is about. */
    subjectId: text('subject_id'),
    data: jsonb('data').$type<EventData>().notNull(),
    /** True once it has been looked at for runs to start. */
    considered: boolean('considered').notNull().default(false),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.source, table.eventId] }),
    index('events_seq').on(table.shopId, table.seq),
    index('events_history').on(table.shopId, table.customerId, table.type, table.time),
    index('events_new')
      .on(table.shopId, table.seq)
      .where(sql`not considered`),
    index('events_type').on(table.shopId, table.type, table.time),
    // What mail systems report names the message.
    index('events_message')
      .on(table.shopId, sql`(data->'message'->>'id')`)
      .where(sql`type like 'message.%'`),
  ],
)
