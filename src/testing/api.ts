import { makeLog } from '../backend/platform/log.ts'
import { buildApp } from '../server/app.ts'
import { addPeople, PASSWORD, testConfig } from './people.ts'
import { makeWorld } from './world.ts'

const ORIGIN = 'http://localhost:8080'

/** Who is signed in: a marketer, or staff that only looks. */
type Person = 'maren' | 'aoife'
type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'

export type Api = Awaited<ReturnType<typeof makeApi>>

/** The server's routes on a world of their own, with two people signed in. */
export async function makeApi() {
  const world = await makeWorld()
  await addPeople(world.db)
  const config = testConfig({ DATABASE_URL: world.url, PORT: 8080, SMTP_URL: world.smtpUrl })
  const app = await buildApp({ db: world.db, config, publicUrl: ORIGIN, log: makeLog('silent') })
  const signIn = async (name: Person): Promise<string> => {
    const answer = await app.inject({
      method: 'POST',
      url: '/api/session',
      headers: { origin: ORIGIN },
      payload: { email: `${name}@combwright.example`, password: PASSWORD },
    })
    return String(answer.headers['set-cookie']).split(';')[0] ?? ''
  }
  const cookies = { maren: await signIn('maren'), aoife: await signIn('aoife') }

  return {
    world,
    app,
    cookies,
    /** Calls a route as somebody who is signed in. */
    call: (
      method: Method,
      url: string,
      payload?: object | Buffer,
      { who = 'maren', type }: { who?: Person; type?: string } = {},
    ) =>
      app.inject({
        method,
        url,
        headers: { origin: ORIGIN, cookie: cookies[who], ...(type && { 'content-type': type }) },
        ...(payload && { payload }),
      }),
    close: async (): Promise<void> => {
      await app.close()
      await world.close()
    },
  }
}
