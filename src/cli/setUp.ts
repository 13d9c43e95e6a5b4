import type { Command } from 'commander'
import { z } from 'zod'
import {
  addUser,
  createApiKey,
  dropSecondFactor,
  listUsers,
  makeLink,
} from '../backend/accounts/index.ts'
import { publicUrlOf, type Config } from '../backend/platform/config.ts'
import type { Db } from '../backend/platform/db.ts'
import { HOME, placeShop } from '../backend/cells/index.ts'
import {
  beginningToken,
  createShop,
  findShop,
  isEmpty,
  newShop,
  shopIds,
} from '../backend/shop/index.ts'
import { role, ROLES } from '../contract/roles.ts'
import { keyScope } from '../contract/scopes.ts'
import { CommandError } from './commandError.ts'
import { withTables } from './withDatabase.ts'

/** The first shop, who works in it, and the keys of its systems. */
export function addSetUp(program: Command): void {
  addBegin(program)
  const shop = program.command('shop').description('shops of this installation')
  shop
    .command('create')
    .description('makes a shop')
    .argument('<id>', 'small letters, digits and dashes; stands in no address that customers see')
    .requiredOption('--name <name>', 'what customers know it by')
    .requiredOption('--zone <zone>', 'its time zone, like Europe/Lisbon')
    .requiredOption('--currency <code>', 'its currency, like EUR')
    .requiredOption('--sender <address>', 'the address that its messages come from')
    .option('--locale <tag>', 'the language its messages are in, and how they write dates', 'en-IE')
    .action((id: string, options: object) =>
      withTables(async (db, _config, cells) => {
        const wanted = read(newShop, { id, ...options })
        for (const [name, other] of cells) {
          if ((await shopIds(other)).includes(id)) throw new CommandError(`There is a shop with the id “${id}” already${cells.size > 1 ? `, in the cell ${name}` : ''}.`)
        }
        // Where it lives is known before it is there: else it would be looked for in the home cell.
        const name = [...cells].find(([, own]) => own === db)?.[0] ?? HOME
        await placeShop(cells.get(HOME) ?? db, id, name)
        await createShop(db, wanted)
        console.log(`${wanted.name} is there. Make its first account: yomble user create ${id} …`)
      }),
    )

  const user = program.command('user').description('who works in a shop')
  user
    .command('create')
    .description('makes an account, and a link by which its password is chosen')
    .argument('<shop>')
    .requiredOption('--email <address>')
    .requiredOption('--name <name>')
    .option('--role <role>', ROLES.join(', '), 'owner')
    .action((shopId: string, options: object) =>
      withTables(async (db, config) => {
        await findShop(db, shopId)
        const added = await addUser(db, shopId, read(z.object({ email: z.email(), name: z.string().min(1).max(80), role }), options))
        if (added.isInvited) await printLink(db, config, shopId, added)
        else console.log(`${added.name} has an account, and signs in as ever.`)
      }),
    )
  user
    .command('link')
    .description('makes a link by which somebody chooses a new password')
    .argument('<shop>')
    .requiredOption('--email <address>')
    .option('--drop-second-factor', 'for somebody who has lost their device, and the codes for that')
    .action((shopId: string, { email, dropSecondFactor: dropSecond }: { email: string; dropSecondFactor?: true }) =>
      withTables(async (db, config) => {
        const found = (await listUsers(db, shopId)).find((one) => one.email === email.toLowerCase())
        if (!found) throw new CommandError(`Nobody in “${shopId}” has the address ${email}.`)
        if (dropSecond) await dropSecondFactor(db, found.id)
        await printLink(db, config, shopId, found)
      }),
    )

  program
    .command('key')
    .description('keys of the shop’s own systems')
    .command('create')
    .description('makes a key, which is printed this once')
    .argument('<shop>')
    .requiredOption('--name <name>', 'what it is for')
    .option('--scopes <scopes>', keyScope.options.join(','), 'events')
    .action((shopId: string, { name, scopes }: { name: string; scopes: string }) =>
      withTables(async (db) => {
        await findShop(db, shopId)
        const { key } = await createApiKey(db, shopId, name, read(z.array(keyScope), scopes.split(',')))
        console.log(key)
      }),
    )
} // prettier-ignore

function addBegin(program: Command): void {
  program
    .command('begin')
    .description('prints the link by which the first shop and its owner are made in a browser')
    .option('--if-empty', 'says nothing where there is a shop already')
    .action(({ ifEmpty }: { ifEmpty?: true }) =>
      withTables(async (db, config) => {
        if (await isEmpty(db)) {
          console.log(`Nobody is here yet. Whoever opens this link becomes the owner of the first shop:\n${publicUrlOf(config)}/begin/${beginningToken(config.LINK_SECRET)}`)
        } else if (!ifEmpty) {
          throw new CommandError('There is a shop here already. “yomble shop create” makes another, “yomble user link” lets somebody in.')
        }
      }),
    )
} // prettier-ignore

async function printLink(
  db: Db,
  config: Config,
  shopId: string,
  { id, name }: { id: string; name: string },
): Promise<void> {
  const token = await makeLink(db, { shopId, userId: id, kind: 'invitation' })
  console.log(`${name} chooses a password here; the link works once, for seven days:\n${publicUrlOf(config)}/password/${token}`) // prettier-ignore
}

/** What was typed, as a schema has it. Throws CommandError that names each option that is wrong. */
function read<Output>(schema: z.ZodType<Output>, given: unknown): Output {
  const result = schema.safeParse(given)
  if (result.success) return result.data
  throw new CommandError(result.error.issues.map(({ path, message }) => `--${path.join('.')}: ${message}`).join('\n')) // prettier-ignore
}
