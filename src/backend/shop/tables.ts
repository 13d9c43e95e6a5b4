import { integer, jsonb, pgTable, primaryKey, text, boolean, index } from 'drizzle-orm/pg-core'
import { instant, shopId } from '../platform/columns.ts'

export const shops = pgTable('shops', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** IANA zone; the shop's times are shown in it. */
  zone: text('zone').notNull(),
  currency: text('currency').notNull(),
  locale: text('locale').notNull(),
  defaultSenderName: text('default_sender_name').notNull(),
  defaultSenderAddress: text('default_sender_address').notNull(),
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
    zone: text('zone'),
    country: text('country'),
    language: text('language'),
    emailConsent: boolean('email_consent'),
    smsConsent: boolean('sms_consent'),
    suppressed: text('suppressed', { enum: ['unsubscribed', 'bounced', 'complained'] }),
    /** The time of the newest event that told of them. */
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('customers_email').on(table.shopId, table.email),
  ],
)

export const products = pgTable(
  'products',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    title: text('title').notNull(),
    collection: text('collection'),
    priceMinor: instant('price_minor').notNull(),
    currency: text('currency').notNull(),
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
    status: text('status').notNull(),
    currency: text('currency').notNull(),
    totalMinor: instant('total_minor').notNull(),
    shippingCountry: text('shipping_country'),
    paymentMethod: text('payment_method'),
    trackingUrl: text('tracking_url'),
    placedAt: instant('placed_at'),
    asOf: instant('as_of').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    index('orders_customer').on(table.shopId, table.customerId),
    index('orders_newest').on(table.shopId, table.asOf),
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
    collection: text('collection'),
    quantity: integer('quantity').notNull(),
    unitPriceMinor: instant('unit_price_minor').notNull(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.orderId, table.position] })],
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
    orderId: text('order_id'),
    data: jsonb('data').notNull(),
    /** True once it has been looked at for runs to start. */
    considered: boolean('considered').notNull().default(false),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.source, table.eventId] }),
    index('events_seq').on(table.shopId, table.seq),
    index('events_history').on(table.shopId, table.customerId, table.type, table.time),
  ],
)
