export { expectReorders, loadIntervals } from './expected.ts'
export { reckonReorders, reckonWhenDue } from './reckon.ts'
export { reorderReport } from './report.ts'
