import type { z } from 'zod'
import { AS_OF_HEADER } from '../../../contract/figures.ts'
import { SHOP_HEADER } from '../../../contract/session.ts'
import { problemResponse, type ProblemResponse } from '../../../contract/problem.ts'

/** The server answered with an error: its words, and where in the input the problems are. */
export class ApiError extends Error {
  readonly status: number
  readonly body: ProblemResponse

  constructor(status: number, body: ProblemResponse) {
    super(body.detail)
    this.name = 'ApiError'
    this.status = status
    this.body = body
  }
}

/** The server did not answer at all. */
export class ServerAwayError extends Error {
  constructor() {
    super('The server does not answer. What is on your screen is kept.')
    this.name = 'ServerAwayError'
  }
}

let shopShown: string | null = null

/** Says from now on of which shop the page is: what it sends is refused in any other. */
export function showsShop(id: string | null): void {
  shopShown = id
}

async function request(
  method: string,
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<Response> {
  const init: RequestInit = { method, credentials: 'same-origin', ...(signal && { signal }) }
  const headers: Record<string, string> = shopShown === null ? {} : { [SHOP_HEADER]: shopShown }
  init.headers = headers
  if (body instanceof File) {
    headers['content-type'] = body.type || 'application/octet-stream'
    init.body = body
  } else if (body !== undefined) {
    headers['content-type'] = 'application/json'
    init.body = JSON.stringify(body)
  }
  const response = await fetch(path, init).catch((error: unknown) => {
    // Nobody waits for it any more; whoever asked for the end knows what to do.
    if (signal?.aborted) throw error
    throw new ServerAwayError()
  })
  if (response.ok) return response
  const answer = problemResponse.safeParse(await response.json().catch(() => null))
  // What was only asked for can say why there is no answer; what was sent is kept and sent again.
  const saysWhy = method === 'GET' && answer.success
  if (response.status >= 502 && !saysWhy) throw new ServerAwayError()
  throw new ApiError(response.status, answer.success ? answer.data : notUnderstood(response.status))
}

const notUnderstood = (status: number): ProblemResponse => ({
  type: 'about:blank',
  title: 'Not understood',
  status,
  detail: 'Yomble answered in a way that was not understood.',
  code: 'internal',
  problems: [],
})

/** Reads something, checked against the contract. Throws ApiError or ServerAwayError. */
export async function getJson<Schema extends z.ZodType>(
  path: string,
  schema: Schema,
  signal?: AbortSignal,
): Promise<z.output<Schema>> {
  const response = await request('GET', path, undefined, signal)
  return schema.parse(await response.json())
}

/** The same, with the moment of the shop’s clock that it is of, where that is not now. */
export async function getDated<Schema extends z.ZodType>(
  path: string,
  schema: Schema,
  signal?: AbortSignal,
): Promise<{ data: z.output<Schema>; asOf: number | null }> {
  const response = await request('GET', path, undefined, signal)
  const asOf = response.headers.get(AS_OF_HEADER)
  return { data: schema.parse(await response.json()), asOf: asOf === null ? null : Number(asOf) }
}

/** Sends something and reads the answer. Throws ApiError or ServerAwayError. */
export async function sendJson<Schema extends z.ZodType>(
  method: 'POST' | 'PUT' | 'DELETE',
  path: string,
  schema: Schema,
  body?: unknown,
  signal?: AbortSignal,
): Promise<z.output<Schema>> {
  const response = await request(method, path, body, signal)
  return schema.parse(await response.json())
}

/** Sends something that has no answer. Throws ApiError or ServerAwayError. */
export async function send(
  method: 'POST' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
): Promise<void> {
  await request(method, path, body)
}

/** Sends a file as it is and reads the answer. Throws ApiError or ServerAwayError. */
export async function sendFile<Schema extends z.ZodType>(
  path: string,
  file: File,
  schema: Schema,
): Promise<z.output<Schema>> {
  const response = await request('POST', path, file)
  return schema.parse(await response.json())
}

/** Sends something and reads the answer as text. Throws ApiError or ServerAwayError. */
export async function sendForText(path: string, body: unknown): Promise<string> {
  return (await request('POST', path, body)).text()
}

/** A query string of the values that are set. */
export function queryOf(values: Record<string, string | number | undefined>): string {
  const set = Object.entries(values).filter(([, value]) => value !== undefined && value !== '')
  const query = new URLSearchParams(set.map(([key, value]) => [key, String(value)])).toString()
  return query === '' ? '' : `?${query}`
}
