#!/usr/bin/env node
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const built = fileURLToPath(new URL('../dist/server/yomble.js', import.meta.url))
if (!existsSync(built)) {
  console.error('Yomble is not built yet: run “npm ci” and “npm run build” once.')
  process.exit(1)
}
// What it starts anew it starts by this name.
process.argv[1] = built
await import(built)
