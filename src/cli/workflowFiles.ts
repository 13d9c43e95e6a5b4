import type { Command } from 'commander'
import { checkWorkflows } from '../commands/checkWorkflows.ts'

/** Workflow documents gone through as files, for whoever keeps them under version control. */
export function addWorkflowFiles(program: Command): void {
  program
    .command('check-workflows')
    .description('goes through the examples of workflow documents, without server or database (TAP 14)')
    .argument('<file...>', 'documents as they are downloaded from a workflow')
    .option('--zone <zone>', 'the shop’s time zone')
    .option('--currency <code>', 'its currency')
    .option('--gap <duration>', 'its message gap, like PT20H')
    .option('--quiet <hours>', 'its quiet hours, like 21:00-08:00')
    .action((files: string[], options: Record<string, string>) => {
      const given = Object.entries(options).map(([name, value]) => `--${name}=${value}`)
      process.exitCode = checkWorkflows([...files, ...given])
    })
} // prettier-ignore
