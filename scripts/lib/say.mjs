/** One line about what is being done. */
export function say(text) {
  console.log(`• ${text}`)
}

/** A failure that a person can do something about: what happened and what to do. */
export class SetupError extends Error {}

/** Runs the script and turns failures into one clear message and exit code 1. */
export async function runScript(main) {
  try {
    await main()
  } catch (error) {
    if (error instanceof SetupError) console.error(`\n✗ ${error.message}`)
    else console.error('\n✗ This should not have happened:\n', error)
    process.exitCode = 1
  }
}
