import { randomUUID } from 'node:crypto'
import type { Command } from 'commander'
import { readDkim } from '../backend/messages/dkim.ts'
import { smtpMailer } from '../backend/messages/smtp.ts'
import { realNow } from '../backend/platform/realTime.ts'
import { findShop } from '../backend/shop/index.ts'
import { CommandError } from './commandError.ts'
import { withTables } from './withDatabase.ts'

/** A mail that shows that mail leaves, and how it arrives. */
export function addTestMail(program: Command): void {
  program
    .command('mail')
    .description('sends a mail, as messages leave, to see whether and how it arrives')
    .argument('<shop>')
    .requiredOption('--to <address>')
    .action((shopId: string, { to }: { to: string }) =>
      withTables(async (db, config) => {
        const { name, defaultSender: from } = await findShop(db, shopId)
        const mailer = smtpMailer(config.SMTP_URL, { connections: 1, dkim: readDkim(config) })
        const messageId = `<trial.${randomUUID()}@yomble.invalid>`
        const text = `${name} can send mail. Look at the headers of this one: whether SPF, DKIM and DMARC say “pass”.\n`
        const sent = await mailer.send({ messageId, date: realNow(), from, replyTo: null, to: [to], copies: [], subject: `${name} can send mail`, text, html: null, unsubscribeUrl: null })
        mailer.close()
        if (sent.kind !== 'sent') throw new CommandError(`The mail server did not take it: ${sent.error}`)
        console.log(`The mail server took it. ${to} should have it in a minute; look among spam, too.`)
      }),
    )
} // prettier-ignore
