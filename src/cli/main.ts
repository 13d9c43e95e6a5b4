import { Command } from 'commander'
import { AppError, ConfigError, toError } from '../backend/platform/errors.ts'
import { HOME } from '../backend/cells/index.ts'
import { CommandError } from './commandError.ts'
import { useCell } from './withDatabase.ts'

const program: Command = new Command('yomble')
  .description('Runs Yomble. What it goes by stands in the environment; docs/running.md begins at the beginning.')
  .option('--cell <name>', 'where shops live in several databases: the one that the command is about', HOME)
  .hook('preAction', () => useCell(program.opts<{ cell: string }>().cell))
  .showHelpAfterError() // prettier-ignore

/** What each command needs takes its time to load: only that of the one that was typed is; of all where help is wanted. */
const PARTS: readonly (readonly [names: readonly string[], load: () => Promise<(program: Command) => void>])[] = [
  [['check'], async () => (await import('./check/command.ts')).addCheck],
  [['migrate', 'server', 'worker', 'all'], async () => (await import('./serving.ts')).addServing],
  [['begin', 'shop', 'user', 'key'], async () => (await import('./setUp.ts')).addSetUp],
  [['mail'], async () => (await import('./testMail.ts')).addTestMail],
  [['dkim', 'report'], async () => (await import('./mailFiles.ts')).addMailFiles],
  [['backup', 'restore', 'keys'], async () => (await import('./backup/commands.ts')).addBackup],
  [['cell'], async () => (await import('./cells.ts')).addCells],
  [['export', 'erase'], async () => (await import('./takeOut.ts')).addTakeOut],
  [['check-workflows'], async () => (await import('./workflowFiles.ts')).addWorkflowFiles],
] // prettier-ignore
const typed = process.argv[2] ?? ''
const own = PARTS.filter(([names]) => names.includes(typed))
for (const [, load] of own.length > 0 ? own : PARTS) (await load())(program)

try {
  await program.parseAsync()
} catch (error) {
  const isExpected = error instanceof CommandError || error instanceof ConfigError || error instanceof AppError // prettier-ignore
  console.error(isExpected ? explained(error) : toError(error).stack)
  process.exitCode = 1
}

function explained(error: Error): string {
  const problems = error instanceof AppError ? error.problems.map(({ path, message }) => `  ${path}: ${message}`) : [] // prettier-ignore
  return [error.message, ...problems].join('\n')
}
