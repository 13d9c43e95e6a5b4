export { actOnPerson } from './acts.ts'
export { erasePerson } from './erasure/erase.ts'
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
export { addSegment, findSegment, listSegments, removeSegment, saveSegment } from './segments.ts'
export { forgetDaily, forgetOld, readRetention, saveRetention } from './retention.ts'
export { personData, type PersonData } from './personData.ts'
export { personTimeline } from './timeline.ts'
export { reachable } from './reachable.ts'
