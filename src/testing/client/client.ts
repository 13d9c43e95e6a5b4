import createClient, { type Client } from 'openapi-fetch'
import { createApiKey } from '../../backend/accounts/index.ts'
import type { KeyScope } from '../../contract/scopes.ts'
import type { Api } from '../api.ts'
import { SHOP } from '../world.ts'
import type { paths } from './paths.d.ts'

/**
 * A client made from the OpenAPI document, with a key that may do something, on a server that listens. `npm run client` makes its
 * types; what the document says wrongly does not compile.
 */
export async function clientFor(api: Api, scopes: KeyScope[]): Promise<Client<paths>> {
  const { key } = await createApiKey(api.world.db, SHOP, scopes.join(' '), scopes)
  const baseUrl = api.app.addresses().length > 0 ? api.app.listeningOrigin : await api.app.listen({ host: '127.0.0.1', port: 0 }) // prettier-ignore
  return createClient<paths>({ baseUrl, headers: { authorization: `Bearer ${key}` } })
}
