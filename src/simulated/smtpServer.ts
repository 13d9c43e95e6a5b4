import { SMTPServer } from 'smtp-server'

/** A mail that came in: its envelope and its bytes. */
export interface ReceivedMail {
  raw: Buffer
  recipients: string[]
}

export interface SimulatedSmtpServer {
  port: number
  close: () => Promise<void>
}

const MAX_BYTES = 5 * 1024 * 1024

/**
 * A small SMTP server on loopback that stands in for the world's mail servers. Mail counts as taken
 * once `deliver` has finished; addresses whose local part starts with `bounce` do not exist, as the
 * enhanced status code 5.1.1 says (RFC 3463).
 */
export function startSmtpServer(
  deliver: (mail: ReceivedMail) => Promise<void>,
  { port = 0 } = {},
): Promise<SimulatedSmtpServer> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: MAX_BYTES,
    logger: false,
    onRcptTo: ({ address }, _session, callback) => {
      if (!/^bounce/i.test(address)) return callback()
      const refusal = Object.assign(new Error('5.1.1 No such mailbox'), { responseCode: 550 })
      return callback(refusal)
    },
    onData: (stream, session, callback) => {
      const chunks: Buffer[] = []
      stream.on('data', (chunk: Buffer) => chunks.push(chunk))
      stream.on('end', () => {
        const recipients = session.envelope.rcptTo.map(({ address }) => address)
        deliver({ raw: Buffer.concat(chunks), recipients }).then(
          () => callback(),
          (error: unknown) => callback(error instanceof Error ? error : new Error('not stored')),
        )
      })
    },
  })
  return new Promise((resolve, reject) => {
    server.on('error', reject)
    const listener = server.listen(port, '127.0.0.1', () => {
      const address = listener.address()
      resolve({
        port: typeof address === 'object' && address ? address.port : port,
        close: () => new Promise((done) => server.close(() => done())),
      })
    })
  })
}
