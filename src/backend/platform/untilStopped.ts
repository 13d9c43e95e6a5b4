/**
 * Says to whoever started this process that it is at work, and ends it in good order when it is told to stop: exit code 0, or 1
 * where something could not be ended.
 */
export function untilStopped(stop: () => Promise<void>): Promise<void> {
  process.send?.('ready')
  return new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) {
      process.once(signal, () => {
        stop().then(
          () => process.exit(0),
          () => process.exit(1),
        )
        resolve()
      })
    }
  })
}
