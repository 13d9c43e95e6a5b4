/** Words by which people stop text messages, as carriers and shops agree on them (common practice). */
const STOP = new Set(['STOP', 'STOPALL', 'UNSUBSCRIBE', 'CANCEL', 'END', 'QUIT', 'STOPP', 'ENDE', 'ARRET', 'ARRÊT', 'BAJA', 'PARAR', 'SAIR', 'LOPETA']) // prettier-ignore
/** And by which they want them again. */
const START = new Set(['START', 'YES', 'UNSTOP', 'JA', 'SIM', 'OUI'])

/**
 * What an answer to a text message says about those to come: no more, again, or nothing. Only a word
 * by itself counts: "please stop by" stops nothing.
 */
export function readOptOut(text: string): 'stop' | 'start' | null {
  const word = text
    .normalize('NFC')
    .trim()
    .replaceAll(/^["'“”]+|["'“”.!]+$/g, '')
    .toUpperCase()
  if (STOP.has(word)) return 'stop'
  return START.has(word) ? 'start' : null
}

/** True for a text message that names a word to end such texts with, in capitals as is usual, or “stop”. */
export const saysHowToStop = (text: string): boolean =>
  (text.match(/\p{L}+/gu) ?? []).some((word) => STOP.has(word) || /^stop$/i.test(word))
