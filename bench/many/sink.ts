import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** A mail server that takes all, and says of each mail to whom it went. */
export interface Sink {
  url: string
  /** How many mails have come since it was last asked to count anew. */
  count: () => number
  restart: () => void
  /** Resolves at the moment at which a mail to this address comes. Ask before it can. */
  mailTo: (address: string) => Promise<number>
  close: () => void
}

export async function startSink(): Promise<Sink> {
  const child = fork(fileURLToPath(new URL('../smtpSink.ts', import.meta.url)), ['tell'], { execArgv: ['--import', 'tsx'] }) // prettier-ignore
  const port = await new Promise<number>((resolve) => child.once('message', (told) => resolve(Number(told)))) // prettier-ignore
  const awaited = new Map<string, (at: number) => void>()
  let count = 0
  child.on('message', (recipients: string[]) => {
    count += 1
    for (const address of recipients) {
      awaited.get(address)?.(performance.now())
      awaited.delete(address)
    }
  })
  return {
    url: `smtp://127.0.0.1:${port}`,
    count: () => count,
    restart: () => {
      count = 0
    },
    mailTo: (address) => new Promise((resolve) => awaited.set(address, resolve)),
    close: () => child.disconnect(),
  }
}
