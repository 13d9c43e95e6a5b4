import { cellConfigs } from '../backend/cells/index.ts'
import { publicUrlOf, type Config } from '../backend/platform/config.ts'
import { folderAbove } from '../backend/platform/folderAbove.ts'
import { openDatabase } from '../backend/platform/db.ts'
import type { Log } from '../backend/platform/log.ts'
import { buildApp } from './app.ts'
import { openFront, type Cell } from './front.ts'

/** Starts the server. Resolves, once it listens, to the function that stops it: what is being answered is answered first. */
export async function startServer(config: Config, log: Log): Promise<() => Promise<void>> {
  const webFolder = folderAbove(['web', 'dist/web'], 'assets')
  if (webFolder === null) log.warn('the screens are not built; only programs are answered')
  const cells = new Map<string, Cell>()
  for (const [name, own] of cellConfigs(config)) {
    const db = openDatabase(own.DATABASE_URL)
    const app = await buildApp({ db, config: own, publicUrl: publicUrlOf(config), log, ...(webFolder !== null && { webFolder }) }) // prettier-ignore
    cells.set(name, { db, app })
  }
  const stopListening = await listen(cells, config, log)
  return async () => {
    await stopListening()
    for (const { app, db } of cells.values()) {
      await app.close()
      await db.$client.end()
    }
  }
}

/** One cell answers by itself; several have one address in front of them. */
async function listen(cells: ReadonlyMap<string, Cell>, config: Config, log: Log): Promise<() => Promise<void>> {
  const { HOST: host, PORT: port } = config
  const [only, ...others] = cells.values()
  if (only && others.length === 0) {
    await only.app.listen({ host, port })
    return async () => undefined
  }
  for (const { app } of cells.values()) await app.ready()
  const front = openFront(cells, { secure: publicUrlOf(config).startsWith('https://'), log })
  await new Promise<void>((resolve, reject) => {
    front.once('error', reject)
    front.listen(port, host, resolve)
  })
  return () =>
    new Promise((resolve) => {
      front.close(() => resolve())
      front.closeIdleConnections()
    })
} // prettier-ignore
