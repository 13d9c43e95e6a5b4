import { checkWorkflows } from './checkWorkflows.ts'

process.exitCode = checkWorkflows(process.argv.slice(2))
