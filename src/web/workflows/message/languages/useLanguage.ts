import { useState } from 'react'
import {
  changedIn,
  inLanguage,
  languagesOf,
  type Translated,
} from '../../../../core/messages/languages.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { updateStep } from '../../../../core/workflow/edit.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import { isToCustomer, type MessageStep } from '../../../../core/workflow/steps.ts'
import { useShop } from '../../../ui/data/shop.tsx'

type Change = (to: Definition, touching?: string) => void

/** A message in the language it is written in just now. */
export interface InLanguage {
  /** All its languages, its own first. */
  languages: readonly string[]
  language: string
  choose: (language: string) => void
  /** The workflow with the message as it is in that language, and how changes of it are taken. */
  definition: Definition
  message: MessageStep
  onChange: Change
}

/**
 * Shows a message in one of its languages: what is written goes to that language alone, how it looks and all
 * else to the message itself.
 */
export function useLanguage(definition: Definition, message: MessageStep, onChange: Change): InLanguage {
  const shop = useShop()
  const [chosen, choose] = useState<string | null>(null)
  const step: Translated | null = isToCustomer(message) ? message : null
  const languages = step ? languagesOf(step, shop.locale) : [shop.locale]
  const [own = shop.locale] = languages
  const language = chosen !== null && languages.includes(chosen) ? chosen : own
  if (!step || language === own) return { languages, language, choose, definition, message, onChange } // prettier-ignore
  const shown = inLanguage(step, language)
  return {
    languages,
    language,
    choose,
    definition: updateStep(definition, step.key, () => shown),
    message: shown,
    onChange: (to, touching) => {
      const edited = allSteps(to.steps).find(({ key }) => key === step.key)
      const isThere = edited && (edited.kind === 'email' || edited.kind === 'sms')
      onChange(
        isThere ? updateStep(to, step.key, () => changedIn(step, language, edited)) : to,
        touching && `${touching} ${language}`,
      )
    },
  }
} // prettier-ignore
