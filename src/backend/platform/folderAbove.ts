import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/**
 * The nearest folder of some names, above wherever this runs from (the sources, or what was built of them), that has a certain
 * file in it; null where there is none. How deep what was built lies is the bundler's business.
 */
export function folderAbove(names: readonly string[], mark: string): string | null {
  for (let folder = dirname(fileURLToPath(import.meta.url)); ; folder = dirname(folder)) {
    const found = names.map((name) => join(folder, name)).find((one) => existsSync(join(one, mark)))
    if (found !== undefined) return found
    if (dirname(folder) === folder) return null
  }
}
