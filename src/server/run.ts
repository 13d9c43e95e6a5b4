import { publicUrlOf, type Config } from '../backend/platform/config.ts'
import { folderAbove } from '../backend/platform/folderAbove.ts'
import { openDatabase } from '../backend/platform/db.ts'
import type { Log } from '../backend/platform/log.ts'
import { buildApp } from './app.ts'

/** Starts the server. Resolves, once it listens, to the function that stops it: what is being answered is answered first. */
export async function startServer(config: Config, log: Log): Promise<() => Promise<void>> {
  const db = openDatabase(config.DATABASE_URL)
  const webFolder = folderAbove(['web', 'dist/web'], 'assets')
  if (webFolder === null) log.warn('the screens are not built; only programs are answered')
  const app = await buildApp({ db, config, publicUrl: publicUrlOf(config), log, ...(webFolder !== null && { webFolder }) }) // prettier-ignore
  await app.listen({ host: config.HOST, port: config.PORT })
  return async () => {
    await app.close()
    await db.$client.end()
  }
}
