import { SMTPServer } from 'smtp-server'
import { freePort } from './freePort.ts'

/** A mail server that takes all and keeps it outside of any database, which may break or be moved. */
export interface MailServer {
  url: string
  /** What has come, by Message-ID; several of one where it came more than once. */
  mails: Map<string, string[]>
  stop: () => Promise<void>
}

export async function startMailServer(): Promise<MailServer> {
  const mails = new Map<string, string[]>()
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData: (stream, _session, done) => {
      const chunks: Buffer[] = []
      stream.on('data', (chunk: Buffer) => chunks.push(chunk))
      stream.on('end', () => {
        const text = Buffer.concat(chunks).toString()
        const id = /^Message-ID: (\S+)/im.exec(text)?.[1] ?? ''
        mails.set(id, [...(mails.get(id) ?? []), text])
        done()
      })
    },
  })
  // Whoever is killed in the middle of a mail hangs up.
  server.on('error', () => undefined)
  const port = await freePort()
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve))
  return {
    url: `smtp://127.0.0.1:${port}`,
    mails,
    stop: () => new Promise((resolve) => server.close(() => resolve())),
  }
}
