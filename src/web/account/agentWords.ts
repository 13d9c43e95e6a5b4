/** Browsers name themselves after each other; the first of these that is found is the one. */
const BROWSERS = [
  [/Edg\//, 'Edge'],
  [/OPR\//, 'Opera'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\//, 'Chrome'],
  [/Safari\//, 'Safari'],
] as const
const SYSTEMS = [
  [/iPhone|iPad/, 'iOS'],
  [/Android/, 'Android'],
  [/Windows/, 'Windows'],
  [/Mac OS X/, 'macOS'],
  [/Linux/, 'Linux'],
] as const

/** What a browser calls itself, in words: “Firefox on Linux”. */
export function agentWords(agent: string): string {
  const browser = BROWSERS.find(([pattern]) => pattern.test(agent))?.[1]
  const system = SYSTEMS.find(([pattern]) => pattern.test(agent))?.[1]
  if (browser === undefined) return agent === '' ? 'An unknown browser' : agent.slice(0, 40)
  return system === undefined ? browser : `${browser} on ${system}`
}
