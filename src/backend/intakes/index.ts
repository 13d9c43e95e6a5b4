export {
  beginIntake,
  intakesOf,
  nextIntake,
  noteLetIn,
  stopIntakes,
  takeDuePeople,
  turnAt,
  type DuePerson,
  type Waiting,
} from './intakes.ts'
