import { z } from 'zod'

/** What can be had as a file, beside people, who are searched for first. */
export const exportKind = z.enum([
  'customers',
  'orders',
  'subscriptions',
  'products',
  'consents',
  'suppressions',
  'messages',
  'coupons',
  'ledger',
  'results',
])
export type ExportKind = z.infer<typeof exportKind>

export const EXPORT_WORDS: Readonly<Record<ExportKind, { name: string; about: string }>> = {
  customers: { name: 'Customers', about: 'everybody, with what is known of them' },
  orders: { name: 'Orders', about: 'a row for each line' },
  subscriptions: { name: 'Subscriptions', about: 'as they stand now' },
  products: { name: 'Products', about: 'with price, page and picture' },
  consents: { name: 'Consents', about: 'what people said themselves, when and how' },
  suppressions: { name: 'Addresses not to write to', about: 'those from which mail came back' },
  messages: { name: 'Messages', about: 'what was sent to whom, and what became of it' },
  coupons: { name: 'Coupons', about: 'every code that was given out' },
  ledger: { name: 'Ledger', about: 'every decision, with its reason' },
  results: { name: 'Results', about: 'what came of each message, in 90 days' },
}

export const fileFormat = z.enum(['csv', 'jsonl'])
export const exportQuery = z.object({ format: fileFormat.default('csv') })
