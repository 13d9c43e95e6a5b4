const operators = 'src/core/conditions/operators.ts'
const history = 'src/core/conditions/history.ts'
const windows = 'src/core/conditions/window.ts'
const lines = 'src/core/conditions/lines.ts'
const past = 'src/core/conditions/past.ts'
const needs = 'src/core/conditions/needs.ts'

export const conditions = [
  ['a date exactly so many days ago is not within them', operators, 'value <= now && value >= now - span', 'value <= now && value > now - span'],
  ['a date that is now is not within the last days', operators, 'value <= now && value >= now - span', 'value < now && value >= now - span'],
  ['a date exactly so many days ahead is not within them', operators, 'value >= now && value <= now + span', 'value >= now && value < now + span'],
  ['before a day includes its first moment', operators, 'value < startOfDate(operand as string, zone)', 'value <= startOfDate(operand as string, zone)'],
  ['after a day includes the day itself', operators, '!isOn(value, operand as string, zone)', 'true'],
  ['weekdays go by UTC', operators, 'localTime(value, zone).weekday', "localTime(value, 'UTC').weekday"],
  ['amounts are compared across currencies', operators, 'value.currency === operand.currency &&', ''],
  ['texts are compared with regard to case', operators, 'const fold = (text: string): string => text.toLowerCase()', 'const fold = (text: string): string => text'],
  ['an unknown list includes none of anything', operators, 'if (!isList(value)) return false', 'if (!isList(value)) return true'],
  ['all of a list is any of it', operators, 'wanted.every((one) => inIt.includes(one))', 'wanted.some((one) => inIt.includes(one))'],
  ['between leaves its end out', operators, 'compare((a, b) => a <= b, to)', 'compare((a, b) => a < b, to)'],
  ['a birthday within so many days leaves out the last', operators, 'daysUntil(day, now, zone) <= Number(days)', 'daysUntil(day, now, zone) < Number(days)'],
  ['a birthday goes by UTC', operators, 'daysUntil(day, now, zone) === 0', "daysUntil(day, now, 'UTC') === 0"],
  ['the last time is the earliest', history, 'Math.max(lastAt, at)', 'lastAt === -Infinity ? at : Math.min(lastAt, at)'],
  ['an event about another order counts for this one', history, 'past.subjectId === subject.id &&', ''],
  ['ids of two kinds are one', history, 'past.subjectId === subject.id && subjectKindOf(past.type) === subject.kind', 'past.subjectId === subject.id'],
  ['what the events were about is not asked', history, '(where === null || isLike(past, where, { facts, enteredAt })),', 'true,'],
  ['an event without its thing is like anything', history, 'if (!past.entity) return false', 'if (!past.entity) return true'],
  ['since entry counts the entry itself', windows, 'after: enteredAt, upTo', 'after: enteredAt - 1, upTo'],
  ['the last days leave their edge out', windows, 'now - window.days * DAY_MS - 1', 'now - window.days * DAY_MS'],
  ['what happens now is not within ever', windows, 'at > after && at <= upTo', 'at > after && at < upTo'],
  ['between dates leaves the last day out', windows, "nextLocalTime(startOfDate(window.to, zone) + 1, '00:00', zone)", 'startOfDate(window.to, zone)'],
  ['between dates goes past now', windows, 'Math.min(now, next - 1)', 'next - 1'],
  ['contains only holds where there are no lines', lines, 'lines > 0 && likeAny === lines', 'likeAny === lines'],
  ['contains only is contains some', lines, 'lines > 0 && likeAny === lines', 'likeAny > 0'],
  ['contains both holds for one of them', lines, 'like.every((count) => count > 0)', 'like.some((count) => count > 0)'],
  ['orders that are still to come are looked into', lines, "type === 'order.placed' && at <= facts.now", "type === 'order.placed'"],
  ['who has been in it counts as being in it', past, "state === 'isIn' ? entry.inProgress", "state === 'isIn' ? true"],
  ['another workflow counts as this one', past, "workflowId === (asked === 'this' ? facts.self.workflowId : asked)", 'true'],
  ['a message that was got counts as opened', past, "did === 'opened' ? message.openedAt", "did === 'opened' ? message.at"],
  ['any message counts for a named one', past, '(step === undefined || step === message.step)', 'true'],
  ['the window of messages is not asked', past, '.filter((at) => isWithin(at, span))', ''],
  ['what events were about is forgotten when two ask', needs, 'entity || (events.get(type) ?? false)', 'entity'],
  ['any of several is all of them', 'src/core/conditions/compile.ts', 'for (const part of parts) if (part.holds(asked)) return true\n      return false', 'for (const part of parts) if (!part.holds(asked)) return false\n      return true'],
  ['a list holds one only where it holds the first', 'src/core/conditions/operators.ts', 'for (const one of list) if (wanted.has(fold(one))) return true\n  return false', 'return wanted.has(fold(list[0] ?? ""))'],
  ['an observation is left out once a part fails', 'src/core/conditions/compile.ts', 'parts.map((part) => part.judge(recall, moment)).every(Boolean)', 'parts.every((part) => part.judge(recall, moment))'],
  ['a status that moves on can be asked of the past', 'src/core/conditions/countable.ts', "when === 'atOnce' || !changesLater(test.field)", 'true'],
  ['what was sent can be asked of the past', 'src/core/conditions/countable.ts', "case 'messages':\n        return false", "case 'messages':\n        return true"],
] // prettier-ignore
