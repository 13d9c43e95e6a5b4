export { cohorts } from './cohorts.ts'
export { mailHealth, pressure } from './pressure.ts'
export { sending } from './sending.ts'
export { calendarToken, shopCalendar, shopOfCalendar } from './calendar.ts'
