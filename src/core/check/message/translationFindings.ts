import { inLanguage, untranslated } from '../../messages/languages.ts'
import { languageName } from '../../words/languageNames.ts'
import type { Definition } from '../../workflow/definition.ts'
import { updateStep } from '../../workflow/edit.ts'
import { allSteps } from '../../workflow/lists.ts'
import type { EmailStep, SmsStep, Step } from '../../workflow/steps.ts'
import { advises, type Finding } from '../finding.ts'
import { blockFindings } from './blockFindings.ts'
import { messageFindings } from './messageFindings.ts'

const isWritten = (step: Step): step is EmailStep | SmsStep =>
  step.kind === 'email' || step.kind === 'sms'

/** What is missing in the further languages of messages, and what is wrong with what they say there. */
export function translationFindings(definition: Definition): Finding[] {
  const messages = allSteps(definition.steps).filter(isWritten)
  const languages = new Set(messages.flatMap(({ translations = {} }) => Object.keys(translations)))
  if (languages.size === 0) return []
  const known = new Set(textFindings(definition).map(idOf))
  return [...languages].flatMap((language) => [
    ...messages.flatMap((message) => missingFinding(message, language)),
    ...wrongIn(definition, messages, language, known),
  ])
}

function missingFinding(message: EmailStep | SmsStep, language: string): Finding[] {
  if (!message.translations?.[language]) return []
  const { parts, blocks } = untranslated(message, language)
  if (parts.length + blocks.length === 0) return []
  const name = languageName(language, 'en')
  const place = { kind: 'step', key: message.key } as const
  const what = [...parts, ...(blocks.length > 0 ? [`${blocks.length} ${blocks.length === 1 ? 'block' : 'blocks'}`] : [])] // prettier-ignore
  const title = `“${message.name}” is not all in ${name}: ${what.join(', ')}.`
  const detail = 'Its readers get the rest in the message’s own language. Write it, or take the language out.' // prettier-ignore
  const [first] = blocks
  return [
    {
      ...advises(`untranslated-${language}`, place, title, detail),
      ...(first !== undefined && { part: { kind: 'block' as const, key: first } }),
    },
  ]
}

/** What is found in the texts as readers of that language get them. They are mended by hand: a repair would change the other. */
function wrongIn(
  definition: Definition,
  messages: readonly (EmailStep | SmsStep)[],
  language: string,
  known: ReadonlySet<string>,
): Finding[] {
  const theirs = messages
    .filter(({ translations }) => translations?.[language])
    .reduce((all, step) => updateStep(all, step.key, () => inLanguage(step, language)), definition)
  const name = languageName(language, 'en')
  return textFindings(theirs)
    .filter((finding) => !known.has(idOf(finding)))
    .map(({ repair: _repair, ...finding }) => ({
      ...finding,
      code: `${finding.code}-${language}`,
      title: `In ${name}: ${finding.title}`,
    }))
}

const textFindings = (definition: Definition): Finding[] => [
  ...messageFindings(definition),
  ...blockFindings(definition),
]

/** What a finding is about: its words differ from one language to the next. */
const idOf = ({ code, place, part }: Finding): string => JSON.stringify([code, place, part])
