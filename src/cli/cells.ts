import type { Command } from 'commander'
import { cellOf, HOME, moveShop, type Cells } from '../backend/cells/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { shopIds } from '../backend/shop/index.ts'
import { CommandError } from './commandError.ts'
import { refuseOldTables, withCells } from './withDatabase.ts'

/** Shops in several databases: where each lives, and moving one. */
export function addCells(program: Command): void {
  const cell = program.command('cell').description('the databases that shops live in')
  cell
    .command('list')
    .description('says which shops live in which cell')
    .action(() =>
      withCells(async (cells) => {
        const home = homeOf(cells)
        for (const [name, db] of cells) {
          await refuseOldTables(db)
          const here: string[] = []
          for (const shopId of await shopIds(db)) if ((await cellOf(home, shopId)) === name) here.push(shopId)
          console.log(`${name}: ${here.length === 0 ? 'no shop' : here.toSorted().join(', ')}`)
        }
      }),
    )
  cell
    .command('move')
    .description('moves a shop to another cell, with all that belongs to it')
    .argument('<shop>')
    .argument('<cell>', 'where it is to live')
    .action((shopId: string, to: string) =>
      withCells(async (cells) => {
        for (const db of cells.values()) await refuseOldTables(db)
        const began = performance.now()
        const counts = await moveShop(cells, homeOf(cells), shopId, to)
        const rows = [...counts.values()].reduce((sum, count) => sum + count, 0)
        const seconds = ((performance.now() - began) / 1000).toFixed(1)
        console.log(counts.size === 0 ? `${shopId} lives in ${to} already.` : `${shopId} lives in ${to} now: ${rows} rows in ${seconds} s. Its people sign in anew.`)
      }),
    )
} // prettier-ignore

function homeOf(cells: Cells): Database {
  const home = cells.get(HOME)
  if (!home) throw new CommandError('There is no home cell.')
  return home
}
