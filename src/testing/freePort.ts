import { createServer, type AddressInfo } from 'node:net'

/** A port of this machine that nothing listens at. */
export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo
      probe.close(() => resolve(port))
    })
  })
