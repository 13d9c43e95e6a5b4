import { startSmtpServer } from '../src/simulated/smtpServer.ts'

// A process of its own, so that taking mail costs the sender nothing. Tells its port and takes all.
const sink = await startSmtpServer(async () => undefined)
process.send?.(sink.port)
process.once('disconnect', () => process.exit(0))
