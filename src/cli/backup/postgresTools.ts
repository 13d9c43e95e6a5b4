import { spawn } from 'node:child_process'
import { CommandError } from '../commandError.ts'

/** Runs one of PostgreSQL's own programs on a database; its password goes by the environment, not by the command line. Throws CommandError. */
export function runPostgres(
  program: 'pg_dump' | 'pg_restore',
  databaseUrl: string,
  args: readonly string[],
): Promise<void> {
  const { hostname, port, username, password, pathname, searchParams } = new URL(databaseUrl)
  const env = {
    ...process.env,
    PGHOST: decodeURIComponent(hostname),
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGSSLMODE: searchParams.get('sslmode') ?? 'prefer',
  }
  const database = decodeURIComponent(pathname.slice(1))
  return new Promise((resolve, reject) => {
    const child = spawn(program, ['--dbname', database, '--no-password', ...args], { env, stdio: ['ignore', 'ignore', 'pipe'] }) // prettier-ignore
    let said = ''
    child.stderr.on('data', (chunk: Buffer) => (said = (said + chunk.toString()).slice(-4000)))
    child.on('error', () => reject(new CommandError(`${program} is not installed. It comes with PostgreSQL’s client programs: apt-get install postgresql-client`))) // prettier-ignore
    child.on('close', (code) => code === 0 ? resolve() : reject(new CommandError(`${program} ended with exit code ${code}:\n${said.trim()}`))) // prettier-ignore
  })
}
