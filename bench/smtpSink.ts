import { startSmtpServer } from '../src/simulated/smtpServer.ts'

// A process of its own, so that taking mail costs the sender nothing. Tells its port and takes all; with "tell", it says to whom.
const tells = process.argv.includes('tell')
const sink = await startSmtpServer(async ({ recipients }) => {
  if (tells) process.send?.(recipients)
})
process.send?.(sink.port)
process.once('disconnect', () => process.exit(0))
