const localTime = 'src/core/shared/localTime.ts'
const duration = 'src/core/shared/duration.ts'
const money = 'src/core/shared/money.ts'
const hash = 'src/core/shared/hash.ts'
const redeem = 'src/core/coupons/redeem.ts'
const yearDay = 'src/core/shared/yearDay.ts'

export const shared = [
  ['quiet hours include their end', localTime, 'from <= time && time < to', 'from <= time && time <= to'],
  ['quiet hours over midnight include their end', localTime, 'time >= from || time < to', 'time >= from || time <= to'],
  ['quiet hours begin a minute late', localTime, 'from <= time && time < to : time >= from', 'from < time && time < to : time > from'],
  ['equal times are quiet all day', localTime, 'from <= to ? from <= time', 'from < to ? from <= time'],
  ['quiet hours end a day late', localTime, 'inside ? nextLocalTime(at + 1, to, zone)', 'inside ? nextLocalTime(at + 86_400_000, to, zone)'],
  ['a local time that is now comes tomorrow', localTime, 'candidate.epochMilliseconds >= from', 'candidate.epochMilliseconds > from'],
  ['a time that was moved over midnight is missed', localTime, 'let ahead = -1; ahead', 'let ahead = 0; ahead'],
  ['a weekday is looked for in one week only', localTime, 'const LOOK_AHEAD_DAYS = 16', 'const LOOK_AHEAD_DAYS = 6'],
  ['days after a date are elapsed time', localTime, "direction === 'after' ? zoned.add(parts)", "direction === 'after' ? zoned.add({ hours: 24 * parts.days })"],
  ['before is after', localTime, 'zoned.subtract(parts)', 'zoned.add(parts)'],
  ['a duration by the calendar counts its hours too', localTime, '.add({ years, months, weeks, days }, ', '.add({ years, months, weeks, days: days + 1 }, '],
  ['days are 24 hours', duration, 'parts.months || parts.weeks || parts.days', 'parts.months || parts.weeks'],
  ['weeks are 24-hour days', duration, 'parts.months || parts.weeks || parts.days', 'parts.months || parts.days'],
  ['a duration without parts is one', duration, '^P(?=\\d|T\\d)', '^P'],
  ['ten years are too long', duration, '> LONGEST_YEARS * 366', '> (LONGEST_YEARS - 1) * 366'],
  ['yen have cents', money, 'JPY: 0', 'JPY: 2'],
  ['dinars have two decimals', money, 'KWD: 3', 'KWD: 2'],
  ['a negative amount loses its sign', money, "money.amountMinor < 0 ? '-' : ''", "''"],
  ['small amounts lose their noughts', money, "padStart(digits + 1, '0')", "padStart(digits, '0')"],
  ['what has too many decimals is cut', money, 'if (fraction.length > digits) return null', ''],
  ['a decimal is read as hundredths', money, "fraction.padEnd(digits, '0')", "fraction.padStart(digits, '0')"],
  ['shares do not follow the weights', hash, 'murmur3(text) / 2 ** 32', 'murmur3(text) / 2 ** 31'],
  ['letters of two bytes are one', hash, '[0xc0 | (point >> 6), low(point)]', '[point & 0xff]'],
  ['the last bytes of a text are left out', hash, 'if (blocks < bytes.length)', 'if (false)'],
  ['a percentage is rounded down', redeem, 'Math.round((sum * discount.percent) / 100)', 'Math.floor((sum * discount.percent) / 100)'],
  ['a percentage is rounded up', redeem, 'Math.round((sum * discount.percent) / 100)', 'Math.ceil((sum * discount.percent) / 100)'],
  ['a code counts at the moment it ends', redeem, 'now >= expiresAt', 'now > expiresAt'],
  ['the least has to be passed', redeem, 'sum < minimum.amountMinor', 'sum <= minimum.amountMinor'],
  ['more comes off than there is', redeem, 'Math.min(sum, discount.amount.amountMinor)', 'discount.amount.amountMinor'],
  ['what is in no category counts for each', redeem, "categories.length === 0 || categories.includes(category ?? '')", "categories.length === 0 || category === null || categories.includes(category)"],
  ['29 February is 1 March where there is none', yearDay, '`${year}-02-28`', '`${year}-03-01`'],
  ['a day of the year that is over is gone', yearDay, 'dayNumber(dateIn(year + 1, day)) - today', '-1'],
] // prettier-ignore
