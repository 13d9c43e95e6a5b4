import type { Command } from 'commander'
import { readConfig } from '../../backend/platform/config.ts'
import { checkDatabase } from './database.ts'
import type { Finding } from './findings.ts'
import { checkMail, checkTexts } from './mail.ts'
import { checkOtherDatabases } from './otherDatabases.ts'
import { checkStanding } from './standing.ts'
import { checkPort, checkSettings } from './settings.ts'

/** Looks at everything that Yomble needs, and says what is wrong and how to mend it. */
export function addCheck(program: Command): void {
  program
    .command('check')
    .description('looks at settings, database, mail server and machine, and says how to mend what is wrong')
    .option('--json', 'as JSON, one line for each thing that was looked at')
    .action(async ({ json }: { json?: true }) => {
      const findings = await checkAll(process.env)
      for (const finding of findings) console.log(json ? JSON.stringify(finding) : lineOf(finding))
      process.exitCode = findings.some(({ level }) => level === 'stops') ? 1 : 0
    }) // prettier-ignore
}

const MARKS = { ok: 'ok   ', warns: 'WARN ', stops: 'STOP ' } as const

const lineOf = ({ code, level, says, mend }: Finding): string =>
  `${MARKS[level]} ${code}: ${says}${mend === undefined ? '' : `\n      → ${mend}`}`

/** Looks at everything, side by side. Throws ConfigError where the settings cannot be read at all. */
export async function checkAll(env: NodeJS.ProcessEnv): Promise<Finding[]> {
  const config = readConfig(env)
  const looked = await Promise.all([checkDatabase(config.DATABASE_URL), checkOtherDatabases(config), checkMail(config), checkTexts(config), checkPort(config), checkStanding(config)]) // prettier-ignore
  return [...checkSettings(config), ...looked.flat()]
}
