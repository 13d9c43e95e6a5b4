import { pipeline } from 'node:stream/promises'
import { Option, type Command } from 'commander'
import { exportRows, rowsAs } from '../backend/exports/index.ts'
import { erasePerson } from '../backend/people/index.ts'
import { findShop } from '../backend/shop/index.ts'
import { exportKind, fileFormat } from '../contract/exports.ts'
import { everyResult } from '../server/resultRows.ts'
import { CommandError } from './commandError.ts'
import { withTables } from './withDatabase.ts'

/** What a shop has here as files, and a person's erasure. */
export function addTakeOut(program: Command): void {
  program
    .command('export')
    .description('writes everything of a kind that a shop has here to the standard output')
    .argument('<shop>')
    .addArgument(program.createArgument('<kind>').choices(exportKind.options))
    .addOption(new Option('--format <format>').choices(fileFormat.options).default('csv'))
    .action((shopId: string, wanted: string, options: { format: string }) =>
      withTables(async (db) => {
        const shop = await findShop(db, shopId)
        const kind = exportKind.parse(wanted)
        const rows = kind === 'results' ? everyResult(db, shop) : exportRows(db, shop, kind)
        await pipeline(rowsAs(fileFormat.parse(options.format), rows), process.stdout)
      }),
    )
  program
    .command('erase')
    .description('removes what identifies a customer, everywhere; it cannot be undone')
    .argument('<shop>')
    .argument('<customer>', 'their id')
    .option('--yes', 'does it; without, it only says what it would do')
    .action((shopId: string, customer: string, { yes }: { yes?: true }) =>
      withTables(async (db) => {
        if (!yes) throw new CommandError(`This would erase what identifies ${customer} in “${shopId}”, for good. Say --yes to do it.`)
        await erasePerson(db, shopId, customer, 'Command line')
        console.log(`What identified ${customer} is gone.`)
      }),
    )
} // prettier-ignore
