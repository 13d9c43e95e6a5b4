import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { once } from 'node:events'
import type { Log } from '../backend/platform/log.ts'
import { toError } from '../backend/platform/errors.ts'
import { findSession, holderOfKey } from '../backend/accounts/index.ts'
import { cellOf, HOME } from '../backend/cells/index.ts'
import type { Database } from '../backend/platform/db.ts'
import type { App } from './context.ts'
import { sessionCookieName } from './guards.ts'

/** A cell as a server has it: its database, and the application that works on it. */
export interface Cell {
  db: Database
  app: App
}

/** What is asked around among the cells is held in memory: links, forms and what other systems send are smaller. */
const MOST_BYTES = 2 * 1024 * 1024
/** Not one of mine: another cell may know it. */
const UNKNOWN: ReadonlySet<number> = new Set([401, 404])
/** So many tokens are remembered with the cell that knows them. */
const MOST_REMEMBERED = 10_000

/**
 * One address in front of all cells. Who carries a key or a session goes to the cell in which that shop lives; the directory is asked each
 * time, since shops are moved. Where only a cell itself can say whether something is its own (a link in a message, a password), one
 * after the other is asked, home first.
 */
export function openFront(cells: ReadonlyMap<string, Cell>, { secure, log }: { secure: boolean; log: Log }): Server {
  const home = homeOf(cells)
  const remembered = new Map<string, string>()
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const token = tokenOf(request, secure)
    const name = token === null ? null : await cellOfToken(cells, token, remembered)
    if (name !== null) return (cells.get(name) ?? home).app.routing(request, response)
    // Who still carries a session that is over may be about to sign in anew, in whatever cell.
    if (token?.kind === 'key' || isOfEverybody(request)) return home.app.routing(request, response)
    await askAround(cells, request, response)
  }
  return createServer((request, response) => {
    answer(request, response).catch((error: unknown) => {
      log.error({ err: toError(error) }, 'a request could not be led to a cell')
      if (!response.headersSent) response.writeHead(503, { 'retry-after': '5' })
      response.end()
    })
  })
} // prettier-ignore

function homeOf(cells: ReadonlyMap<string, Cell>): Cell {
  const home = cells.get(HOME)
  if (!home) throw new Error('There is no home cell')
  return home
}

interface Token {
  kind: 'key' | 'session'
  value: string
}

function tokenOf({ headers }: IncomingMessage, secure: boolean): Token | null {
  const key = /^Bearer (\S+)$/i.exec(headers.authorization ?? '')?.[1]
  if (key !== undefined) return { kind: 'key', value: key }
  const name = `${sessionCookieName(secure)}=`
  const session = (headers.cookie ?? '').split(/; */).find((one) => one.startsWith(name))
  return session === undefined ? null : { kind: 'session', value: decodeURIComponent(session.slice(name.length)) } // prettier-ignore
}

/** The cell whose shop a token is for; null where none knows it. */
async function cellOfToken(cells: ReadonlyMap<string, Cell>, token: Token, remembered: Map<string, string>): Promise<string | null> {
  const home = homeOf(cells)
  const mark = `${token.kind} ${token.value}`
  const first = remembered.get(mark)
  const names = [...cells.keys()].toSorted((a, b) => Number(b === first) - Number(a === first))
  for (const name of names) {
    const cell = cells.get(name)
    const shopId = cell && (await shopOf(cell.db, token))
    // In a cell that the shop has left it may not be gone yet.
    if (!shopId || (await cellOf(home.db, shopId)) !== name) continue
    if (remembered.size >= MOST_REMEMBERED) remembered.clear()
    remembered.set(mark, name)
    return name
  }
  return null
} // prettier-ignore

async function shopOf(db: Database, { kind, value }: Token): Promise<string | undefined> {
  if (kind === 'key') return (await holderOfKey(db, value))?.shopId
  return (await findSession(db, value))?.user.shopId
}

/** Screens, their parts, and what is about the installation: any cell answers alike. */
const isOfEverybody = ({ method, url = '/' }: IncomingMessage): boolean =>
  method === 'GET' && (/^\/(assets|livez|readyz|metrics)\b/.test(url) || url === '/' || /^\/api\/(openapi\.json|problems|schema)/.test(url)) // prettier-ignore

/** Asks one cell after the other, and answers with what the first says that knows what is asked for; else with what home says. */
async function askAround(
  cells: ReadonlyMap<string, Cell>,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const body = await bodyOf(request)
  if (body === null) {
    response.writeHead(413, { connection: 'close' }).end()
    return
  }
  let first: Answer | null = null
  for (const { app } of cells.values()) {
    const answer = await app.inject({
      method: (request.method ?? 'GET') as 'GET',
      url: request.url ?? '/',
      headers: request.headers,
      remoteAddress: request.socket.remoteAddress ?? '',
      ...(body.length > 0 && { payload: body }),
    })
    first ??= answer
    if (UNKNOWN.has(answer.statusCode)) continue
    return send(response, answer)
  }
  if (first) send(response, first)
}

type Answer = Awaited<ReturnType<App['inject']>>

function send(response: ServerResponse, { statusCode, headers, rawPayload }: Answer): void {
  response.writeHead(statusCode, headers)
  response.end(rawPayload)
}

/** What was sent; null where it is more than is asked around. */
async function bodyOf(request: IncomingMessage): Promise<Buffer | null> {
  const chunks: Buffer[] = []
  let bytes = 0
  request.on('data', (chunk: Buffer) => {
    bytes += chunk.length
    if (bytes <= MOST_BYTES) chunks.push(chunk)
  })
  await once(request, 'end')
  return bytes > MOST_BYTES ? null : Buffer.concat(chunks)
}
