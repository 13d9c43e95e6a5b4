import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { z } from 'zod'
import { openDatabase, rowsOf, type Database } from '../../backend/platform/db.ts'
import { resumeWorkflow } from '../../backend/workflows/index.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../../testing/builders.ts'
import { emptyDatabase } from '../../testing/database.ts'
import { testConfig } from '../../testing/people.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { countTables } from './counts.ts'
import { FILES, makeBackup } from './makeBackup.ts'
import { restoreBackup } from './restoreBackup.ts'
import { opened, sealed } from './sealed.ts'

let world: World
let folder: string
let target: string
let restored: Database
beforeEach(async () => {
  world = await makeWorld()
  folder = join(mkdtempSync(join(tmpdir(), 'backup-')), 'one')
  target = await emptyDatabase()
  restored = openDatabase(target, { connections: 3 })
})
afterEach(async () => {
  await restored.$client.end()
  await world.close()
  rmSync(join(folder, '..'), { recursive: true })
})

const configOf = (url: string) => testConfig({ DATABASE_URL: url })
const SERIES = aDefinition({
  steps: [anEmail('first'), wait('pause', 'P3D'), anEmail('second')],
})
const order = (id: string) => orderEvent('order.placed', START, { id, number: id })

describe('a drill', () => {
  test('everything is there again as it was, and nothing is sent a second time', async () => {
    const id = await world.publish(SERIES)
    await world.post(order('o1'), order('o2'))
    // One is about to leave as the backup is made.
    await world.db.execute(sql`update messages set status = 'queued', sent_at = null where step = 'first' and run_id = (select max(run_id) from messages)`) // prettier-ignore
    const made = await makeBackup(world.db, configOf(world.url), { folder, passphrase: null })
    expect(made.counts).toEqual(await countTables(world.db))
    expect(made.counts['public.messages']).toBe(2)
    // What leaves after it, the backup cannot know of.
    await world.moveTo(START + 4 * DAY_MS)
    const came = await restoreBackup(restored, configOf(target), folder)
    expect(came).toMatchObject({ paused: 1, doubtful: 1 })
    expect(await countTables(restored)).toEqual({
      ...made.counts,
      // That it was paused is on record.
      'public.workflow_states': (made.counts['public.workflow_states'] ?? 0) + 1,
    })
    const states = await rowsOf(restored, z.object({ status: z.string(), count: z.int() }), sql`select status, count(*)::int as count from messages group by 1 order by 1`) // prettier-ignore
    expect(states).toEqual([
      { status: 'sent', count: 1 },
      { status: 'unsure', count: 1 },
    ])
    // Resumed days later, with the word that nothing late is to leave, its second letters are passed over.
    await restored.execute(sql`update shops set clock_now = ${START + 5 * DAY_MS}`)
    await resumeWorkflow(restored, SHOP, id, { skipLaterThanHours: 0 })
    const due = await rowsOf(restored, z.object({ skip: z.int() }), sql`select skip_before as skip from runs where status = 'inProgress'`) // prettier-ignore
    expect(due).toEqual([{ skip: START + 5 * DAY_MS }, { skip: START + 5 * DAY_MS }])
  })

  test('is refused where something stands already, where a backup was broken off, and where it is not whole', async () => {
    await makeBackup(world.db, configOf(world.url), { folder, passphrase: null })
    await expect(makeBackup(world.db, configOf(world.url), { folder, passphrase: null })).rejects.toThrow('is there already') // prettier-ignore
    await expect(restoreBackup(world.db, configOf(world.url), folder)).rejects.toThrow('This database has tables') // prettier-ignore
    const file = join(folder, FILES.manifest)
    const text = readFileSync(file, 'utf8')
    rmSync(file)
    await expect(restoreBackup(restored, configOf(target), folder)).rejects.toThrow('broken off')
    writeFileSync(file, text.replace('"public.shops": 1', '"public.shops": 2'))
    await expect(restoreBackup(restored, configOf(target), folder)).rejects.toThrow('public.shops had 2 rows and has 1') // prettier-ignore
  })
})

describe('keys', () => {
  test('open with their passphrase only, and stand nowhere unsealed', async () => {
    const passphrase = 'kept in the honey house'
    await makeBackup(world.db, configOf(world.url), { folder, passphrase })
    const file = readFileSync(join(folder, FILES.keys), 'utf8')
    expect(JSON.parse(opened(file, passphrase))).toEqual({ LINK_SECRET: configOf('').LINK_SECRET })
    expect(file).not.toContain(configOf('').LINK_SECRET)
    expect(() => opened(file, 'another passphrase')).toThrow('does not open')
    const changed = file.replace(/\n(.)([^\n]*)$/, (_all, first: string, rest: string) => `\n${first === 'A' ? 'B' : 'A'}${rest}`) // prettier-ignore
    expect(() => opened(changed, passphrase)).toThrow('does not open')
    expect(() => opened('nonsense', passphrase)).toThrow('cannot be read')
    expect(sealed('x', passphrase)).not.toBe(sealed('x', passphrase))
    expect(existsSync(join(folder, FILES.dump))).toBe(true)
  })
})
