/** May run something when they are installed: they choose what they already carry for this machine, and fetch nothing. */
const MAY_RUN = new Set(['esbuild', 'fsevents'])

/** What licences say who may use a package for what; others want reading first. */
const LICENCES = new Set([
  'MIT',
  'MIT-0',
  'ISC',
  'BSD-2-Clause',
  'BSD-3-Clause',
  '0BSD',
  'Apache-2.0',
  'CC0-1.0',
  'CC-BY-4.0',
  'Unlicense',
  'BlueOak-1.0.0',
  'Python-2.0',
  'MPL-2.0',
  'OFL-1.1',
  '(MIT OR CC0-1.0)',
  '(MIT OR EUPL-1.1+)',
  'MIT AND ISC AND BSD-3-Clause',
])
/** Say so only in their text: all three are under the MIT licence. */
const READ = new Set(['jstat', 'png-js', 'slick'])

/** What is wrong with a lock file, a line each; nothing where all is well. */
export function lockFileProblems(manifest, lock) {
  const problems = []
  for (const [name, range] of Object.entries({
    ...manifest.dependencies,
    ...manifest.devDependencies,
  })) {
    if (!/^\d+\.\d+\.\d+(-[\w.]+)?$/.test(range))
      problems.push(`${name} is asked for as “${range}”: name one version`)
  }
  for (const [place, entry] of Object.entries(lock.packages)) {
    if (place === '' || entry.link) continue
    const name = place.slice(place.lastIndexOf('node_modules/') + 'node_modules/'.length)
    // Left out, it is the registry's, whichever that is: the digest says that it is the same.
    if (entry.resolved !== undefined && !/^https:\/\/registry\./.test(entry.resolved))
      problems.push(`${name} comes from ${entry.resolved}, not from the registry`)
    // What is bundled comes within its parent, under that one's digest.
    if (!entry.inBundle && !/^sha512-/.test(entry.integrity ?? ''))
      problems.push(`${name} has no digest (sha512)`)
    if (entry.hasInstallScript && !MAY_RUN.has(name))
      problems.push(`${name} runs something when it is installed`)
    if (entry.deprecated) problems.push(`${name} ${entry.version} is given up: ${entry.deprecated}`)
    if (!LICENCES.has(entry.license) && !READ.has(name))
      problems.push(`${name} has the licence ${entry.license ?? 'none'}`)
  }
  return problems
}
