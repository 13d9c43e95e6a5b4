import { defineConfig } from 'drizzle-kit'

export default defineConfig({
  dialect: 'postgresql',
  schema: './src/backend/*/tables.ts',
  out: './migrations',
})
