import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { simpleParser, type ParsedMail } from 'mailparser'
import { mailResponse, type MailResponse, type MailsResponse } from '../../contract/activity.ts'
import { containing, rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { readClock } from '../shop/index.ts'
import { mails } from './tables.ts'

const PAGE = 50

/** Keeps a mail as it came over the wire, with what its MIME says, for each of its recipients. */
export async function storeMail(
  db: Db,
  shopId: string,
  raw: Buffer,
  recipients: readonly string[],
): Promise<void> {
  const parsed = await simpleParser(raw)
  const rows = recipients.map((toAddress) => ({ shopId, toAddress, ...fieldsOf(parsed, raw) }))
  if (rows.length > 0) await db.insert(mails).values(rows)
}

/** Keeps a text message that came through the gateway, beside the mails. */
export async function storeText(
  db: Db,
  shopId: string,
  { id, to, text }: { id: string; to: string; text: string },
): Promise<void> {
  const { now } = await readClock(db, shopId)
  await db.insert(mails).values({
    shopId,
    kind: 'text',
    toAddress: to,
    raw: Buffer.from(text).toString('base64'),
    messageId: id,
    date: now,
    fromText: '',
    subject: '',
    plain: text,
    html: null,
    headers: [],
  })
}

function fieldsOf(parsed: ParsedMail, raw: Buffer) {
  return {
    raw: raw.toString('base64'),
    messageId: parsed.messageId ?? '',
    date: parsed.date?.getTime() ?? realNow(),
    fromText: parsed.from?.text ?? '',
    subject: parsed.subject ?? '',
    plain: parsed.text ?? '',
    html: parsed.html === false ? null : parsed.html,
    headers: parsed.headerLines.map(({ key, line }) => ({
      name: line.slice(0, key.length),
      value: line
        .slice(key.length + 1)
        .trim()
        .replaceAll(/\r?\n\s+/g, ' '),
    })),
  }
}

const summaryRow = z.object({
  id: z.number(),
  kind: z.enum(['mail', 'text']),
  date: z.number(),
  from: z.string(),
  to: z.string(),
  subject: z.string(),
  plain: z.string(),
})

/** A page of the mailbox, newest first. */
export async function mailPage(
  db: Db,
  shopId: string,
  { search, before }: { search?: string | undefined; before?: number | undefined },
): Promise<MailsResponse> {
  const pattern = search ? containing(search) : null
  const matching = sql`shop_id = ${shopId} and (${pattern}::text is null
    or subject ilike ${pattern} or to_address ilike ${pattern} or plain ilike ${pattern})`
  const rows = await rowsOf(
    db,
    summaryRow,
    sql`select id, kind, date, from_text as from, to_address as to, subject, left(plain, 400) as plain
    from mails where ${matching} and (${before ?? null}::bigint is null or id < ${before ?? null})
    order by id desc limit ${PAGE + 1}`,
  )
  const [count] = await rowsOf(
    db,
    z.object({
      total: z.number(),
    }),
    sql`select count(*) as total from mails where ${matching}`,
  )
  return {
    mails: rows.slice(0, PAGE).map(({ plain, ...row }) => ({ ...row, snippet: snippetOf(plain) })),
    more: rows.length > PAGE,
    total: count?.total ?? 0,
  }
}

const snippetOf = (plain: string): string => plain.replaceAll(/\s+/g, ' ').trim().slice(0, 140)

const mailRow = mailResponse
  .omit({ text: true, cc: true, replyTo: true, deliveredTo: true, attachments: true })
  .extend({ plain: z.string(), raw: z.string(), messageId: z.string() })

/** One mail with its headers. Throws AppError `not_found`. */
export async function findMail(db: Db, shopId: string, id: number): Promise<MailResponse> {
  const [row] = await rowsOf(
    db,
    mailRow,
    sql`select m.id, m.kind, m.date, m.from_text as from, m.to_address as to, m.subject, m.plain, m.html,
      m.headers, m.raw, m.message_id as "messageId", messages.run_id as "runId"
    from mails m
    left join messages on messages.shop_id = m.shop_id and messages.message_id = m.message_id
    where m.shop_id = ${shopId} and m.id = ${id}`,
  )
  if (!row) throw new AppError('not_found', 'There is no such mail.')
  const { plain, raw, messageId, ...mail } = row
  const letter = { ...mail, text: plain }
  if (mail.kind === 'text') {
    return { ...letter, cc: null, replyTo: null, deliveredTo: [mail.to], attachments: [] }
  }
  const { attachments } = await simpleParser(Buffer.from(raw, 'base64'))
  const headerOf = (name: string) =>
    mail.headers.find((one) => one.name.toLowerCase() === name)?.value ?? null
  return {
    ...letter,
    cc: headerOf('cc'),
    replyTo: headerOf('reply-to'),
    deliveredTo: await recipientsOf(db, shopId, messageId),
    attachments: attachments.map(({ filename, contentType, size }) => ({
      name: filename ?? 'without a name',
      type: contentType,
      bytes: size,
    })),
  }
}

/** Everybody a mail was handed over for, in the order in which the envelope names them. */
async function recipientsOf(db: Db, shopId: string, messageId: string): Promise<string[]> {
  const rows = await rowsOf(
    db,
    z.object({
      to: z.string(),
    }),
    sql`select to_address as to from mails
    where shop_id = ${shopId} and message_id = ${messageId} group by to_address order by min(id)`,
  )
  return rows.map(({ to }) => to)
}

/** The message as it came over the wire (RFC 5322). Throws AppError `not_found`. */
export async function rawMail(db: Db, shopId: string, id: number): Promise<Buffer> {
  const [row] = await rowsOf(
    db,
    z.object({
      raw: z.string(),
    }),
    sql`select raw from mails where shop_id = ${shopId} and id = ${id}`,
  )
  if (!row) throw new AppError('not_found', 'There is no such mail.')
  return Buffer.from(row.raw, 'base64')
}
