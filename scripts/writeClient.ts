// Writes the types of a client for the OpenAPI document, which the tests use. npm run client
import { writeFileSync } from 'node:fs'
import openapiTS, { astToString } from 'openapi-typescript'
import { openDatabase } from '../src/backend/platform/db.ts'
import { makeLog } from '../src/backend/platform/log.ts'
import { buildApp } from '../src/server/app.ts'
import { testConfig } from '../src/testing/people.ts'

// Nothing is asked of it: the document is made of the routes alone.
const DATABASE_URL = 'postgres://127.0.0.1:1/none'
const app = await buildApp({
  db: openDatabase(DATABASE_URL),
  config: testConfig({ DATABASE_URL }),
  publicUrl: 'http://localhost:8080',
  log: makeLog('silent'),
})
await app.ready()
const types = astToString(await openapiTS(JSON.stringify(app.swagger())))
await app.close()
writeFileSync(new URL('../src/testing/client/paths.d.ts', import.meta.url), types)
