export { actOnPerson } from './acts.ts'
export { labelMany, labelsOf } from './labels.ts'
export {
  countPeople,
  drawnPeople,
  listedPeople,
  personRows,
  readPlace,
  writePlace,
  type ListedPerson,
} from './list.ts'
export { personFacts } from './person.ts'
export { addSegment, listSegments, removeSegment, saveSegment } from './segments.ts'
export { personTimeline } from './timeline.ts'
