import { once } from 'node:events'
import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '../../backend/platform/db.ts'
import { startPart } from './load.ts'
import type { Numbered } from './part.ts'
import type { ThreadGiven } from './inThreads.ts'

/** A thread that lives through one part, tells when its rows were, and writes them once it has their numbers. */
const { databaseUrl, order, lives } = workerData as ThreadGiven
const port = parentPort
if (!port) throw new Error('This is started as a thread')

const db = openDatabase(databaseUrl)
const part = await startPart(db, order, lives)
port.postMessage(part.times())
const [numbers] = (await once(port, 'message')) as [Record<Numbered, Int32Array>]
await part.write(db, numbers)
await db.$client.end()
port.postMessage('written')
port.close()
