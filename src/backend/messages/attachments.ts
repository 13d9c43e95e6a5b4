import type { Facts } from '../../core/events/facts.ts'
import type { EmailStep } from '../../core/workflow/steps.ts'
import { documentsOf } from '../files/index.ts'
import type { Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'
import { invoicePdf } from './invoice.ts'
import { RenderError } from './renderError.ts'
import type { Attachment } from './smtp.ts'

/** What goes with an email: the invoice first, then files. Throws RenderError where one is gone. */
export async function attachmentsOf(
  db: Db,
  shop: Shop,
  { invoice, documents = [] }: EmailStep,
  facts: Facts,
): Promise<Attachment[]> {
  const attachments = invoice ? [await invoiceOf(shop, facts)] : []
  if (documents.length === 0) return attachments
  const ids = documents.map(({ id }) => id)
  const found = await documentsOf(db, shop.id, ids)
  if (found.length < ids.length) throw new RenderError('a file that goes with it is gone')
  const files = found.map(({ name, type, bytes }) => ({ filename: name, contentType: type, content: bytes })) // prettier-ignore
  return [...attachments, ...files]
}

async function invoiceOf(shop: Shop, facts: Facts): Promise<Attachment> {
  const number = facts.order?.number.replaceAll(/[^\w-]/g, '') ?? ''
  const content = await invoicePdf(facts, shop.brand)
  return { filename: `invoice-${number}.pdf`, contentType: 'application/pdf', content }
}
