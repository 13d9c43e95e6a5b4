import type { ImportSummary } from '../../contract/imports.ts'

export const STATE_WORDS: Readonly<Record<ImportSummary['state'], string>> = {
  uploaded: 'not brought in yet',
  running: 'on its way',
  done: 'brought in',
  failed: 'stopped',
  undone: 'undone',
}

/** "1,204 new, 3 known already, 2 rows refused". */
export function countsWords({ taken, known, refused }: ImportSummary['counts']): string {
  const figure = (count: number): string => count.toLocaleString('en')
  return [
    `${figure(taken)} new`,
    ...(known > 0 ? [`${figure(known)} known already`] : []),
    ...(refused > 0 ? [`${figure(refused)} ${refused === 1 ? 'row' : 'rows'} refused`] : []),
  ].join(', ')
}
