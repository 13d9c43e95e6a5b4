import { sql } from 'drizzle-orm'
import { decimalAmount } from '../../core/shared/money.ts'
import type { Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'
import { PAGE, pageOf, written, type Page, type Place, type Read } from './page.ts'

type Row = Record<string, unknown>

/** An amount as files write it: 12.50. */
const amount = (minor: unknown, currency: unknown): string =>
  decimalAmount({ amountMinor: Number(minor), currency: String(currency) })

// The columns are named as files that are brought in name theirs, so that a shop's data moves to another as it is.

const readCustomers = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select id as key0, id, email, first_name as "firstName", last_name as "lastName", phone, country, language, zone, birthday,
      may_email as "emailConsent", may_text as "smsConsent", created_at as "createdAt",
      (select coalesce(jsonb_agg(tag order by tag), '[]') from (
        select tag from jsonb_array_elements_text(tags) as tag where coalesce((tag_changes->>tag)::boolean, true)
        union select key from jsonb_each_text(tag_changes) where value = 'true') as own(tag)) as tags,
      lists, properties
    from customers where shop_id = ${shopId} and id > ${after?.[0] ?? ''} order by id limit ${PAGE}`,
    (row) => written({ ...row, tags: names(row['tags']), lists: names(row['lists']) }, ['createdAt']),
  ) // prettier-ignore

const names = (value: unknown): string => (Array.isArray(value) ? value.join(', ') : '')

const readOrders = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select l.order_id as key0, l.position as key1, o.id, o.number, o.placed_at as "placedAt", o.customer_id as "customerId", c.email, o.status,
      o.currency, o.total_minor as total, o.shipping_country as "shippingCountry", o.payment_method as "paymentMethod",
      o.coupon_codes as "couponCodes", l.product_id as "productId", l.title, l.category, l.variant, l.quantity,
      l.unit_price_minor as "unitPrice"
    from order_lines l
      join orders o on o.shop_id = l.shop_id and o.id = l.order_id
      left join customers c on c.shop_id = o.shop_id and c.id = o.customer_id
    where l.shop_id = ${shopId} and (l.order_id, l.position) > (${after?.[0] ?? ''}, ${after?.[1] ?? -1})
    order by l.order_id, l.position limit ${PAGE}`,
    (row: Row) => ({
      ...written(row, ['placedAt']),
      total: amount(row['total'], row['currency']),
      unitPrice: amount(row['unitPrice'], row['currency']),
      couponCodes: names(row['couponCodes']),
    }),
  ) // prettier-ignore

const readSubscriptions = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select s.id as key0, s.id, s.customer_id as "customerId", c.email, s.status, s.product_id as "productId", s.title, s.category,
      s.amount_minor as amount, s.currency, s.interval,
      s.started_at as "startedAt", s.next_payment_at as "nextPaymentAt", s.ends_at as "endsAt", s.trial_ends_at as "trialEndsAt"
    from subscriptions s left join customers c on c.shop_id = s.shop_id and c.id = s.customer_id
    where s.shop_id = ${shopId} and s.id > ${after?.[0] ?? ''} order by s.id limit ${PAGE}`,
    (row: Row) => ({
      ...written(row, ['startedAt', 'nextPaymentAt', 'endsAt', 'trialEndsAt']),
      amount: amount(row['amount'], row['currency']),
    }),
  ) // prettier-ignore

const readProducts = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select id as key0, id, title, category, price_minor as price, currency, url, image_url as "imageUrl", in_stock as "inStock"
    from products where shop_id = ${shopId} and id > ${after?.[0] ?? ''} order by id limit ${PAGE}`,
    (row: Row) => ({ ...written(row), price: amount(row['price'], row['currency']) }),
  )

const readConsents = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select c.id as key0, said.channel as key1, c.id as "customerId", c.email, said.channel, said.given, said.how, said.at
    from customers c cross join lateral (values
      ('email', c.email_said, c.email_said_how, c.email_said_at), ('sms', c.sms_said, c.sms_said_how, c.sms_said_at)
    ) as said(channel, given, how, at)
    where c.shop_id = ${shopId} and said.given is not null and (c.id, said.channel) > (${after?.[0] ?? ''}, ${after?.[1] ?? ''})
    order by c.id, said.channel limit ${PAGE}`,
    (row: Row) => written(row, ['at']),
  ) // prettier-ignore

const readSuppressions = (db: Db, { id: shopId }: Shop, after: Place | null): Promise<Page> =>
  pageOf(
    db,
    sql`select address as key0, address as email, 'bounced' as reason, since as at
    from dead_addresses where shop_id = ${shopId} and address > ${after?.[0] ?? ''} order by address limit ${PAGE}`,
    (row: Row) => written(row, ['at']),
  )

/** What the shop has told of: people, orders and what they are about. */
export const readShopData = {
  customers: readCustomers,
  orders: readOrders,
  subscriptions: readSubscriptions,
  products: readProducts,
  consents: readConsents,
  suppressions: readSuppressions,
} satisfies Record<string, Read>
