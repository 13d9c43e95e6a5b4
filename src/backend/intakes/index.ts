export {
  beginIntake,
  intakesOf,
  nextIntake,
  noteLetIn,
  stopIntakes,
  takeDuePeople,
  type DuePerson,
  type Waiting,
} from './intakes.ts'
