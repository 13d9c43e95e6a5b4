import { createPublicKey, generateKeyPairSync } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { buffer } from 'node:stream/consumers'
import { z } from 'zod'
import type { Command } from 'commander'
import { readReport } from '../backend/messages/index.ts'
import { linkSecretsOf } from '../backend/platform/config.ts'
import { AppError } from '../backend/platform/errors.ts'
import { ingestEvents, shopIds } from '../backend/shop/index.ts'
import { publicKeyOf } from '../backend/standing/index.ts'
import { dkimRecord } from '../core/standing/dkimStanding.ts'
import { CommandError } from './commandError.ts'
import { withTables } from './withDatabase.ts'

/** Keys that mail is signed with, and mail that comes back. */
export function addMailFiles(program: Command): void {
  program
    .command('dkim')
    .description('makes a key that mail is signed with, and says which record it needs')
    .argument('<domain>', 'from which mail comes, like shop.example')
    .argument('<selector>', 'the name of this key: one that was not used before, like y2027')
    .argument('<file>', 'where the private key is kept; one that is there is kept, and its record said again')
    .action((domain: string, selector: string, file: string) => sayKey({ domain, selector, file }))
  program
    .command('report')
    .description('takes in a mail that came to RETURN_PATH, or a complaint, from the standard input')
    .option('--shop <shop>', 'whose it is; left out, it is found by the address that the mail came to')
    .action(({ shop }: { shop?: string }) =>
      withTables(async (db, config) => {
        const raw = await buffer(process.stdin)
        if (raw.length === 0) throw new CommandError('Nothing came in. Hand the mail over on the standard input: yomble report < mail.eml')
        const secrets = linkSecretsOf(config)
        for (const shopId of shop === undefined ? await shopIds(db) : [shop]) {
          const event = await readReport(db, { shopId, secrets }, raw).catch(notOfThisShop)
          if (event === undefined) continue
          if (event) await ingestEvents(db, shopId, [event])
          console.log(event ? `Taken in for “${shopId}”: ${event.type}.` : 'Nothing to do: the mail is late, or somebody has answered.')
          return
        }
        throw new CommandError('The mail is about no message that was sent from here.')
      }),
    )
} // prettier-ignore

/** The report may be about another shop's mail. Throws whatever else went wrong. */
function notOfThisShop(error: unknown): undefined {
  if (!(error instanceof AppError) || error.code !== 'bad_input') throw error
}

const name = z.hostname('must be a name like shop.example')
const BITS = 2048

function sayKey(given: { domain: string; selector: string; file: string }): void {
  const { file } = given
  const domain = name.parse(given.domain)
  const selector = name.parse(given.selector)
  const isThere = existsSync(file)
  if (!isThere) {
    const { privateKey } = generateKeyPairSync('rsa', { modulusLength: BITS })
    // `wx`: whoever makes one at the same moment keeps theirs.
    writeFileSync(file, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600, flag: 'wx' }) // prettier-ignore
  }
  const privateKey = readFileSync(file, 'utf8')
  if (createPublicKey(privateKey).asymmetricKeyType !== 'rsa') throw new CommandError(`${file} holds no RSA key.`) // prettier-ignore
  const record = dkimRecord({ domain, selector, publicKey: publicKeyOf(privateKey) })
  console.log(`${isThere ? 'The key in' : 'Made a key in'} ${file} needs this record where the domain is run:

${record.name}
${record.type}
${record.value}

Once it is there, which “yomble check” says, set

DKIM_DOMAIN=${domain}
DKIM_SELECTOR=${selector}
DKIM_KEY_FILE=${file}

and start Yomble anew. Leave the record of the key before it for a week: mail that is under way is checked by it.`)
}
