import { Languages, X } from 'lucide-react'
import { useState, type FormEvent, type ReactNode } from 'react'
import { FIXED_WORDS } from '../../../../core/messages/fixedWords.ts'
import { untranslated, type Translated } from '../../../../core/messages/languages.ts'
import { languageTag } from '../../../../core/blocks/translation.ts'
import { languageName } from '../../../../core/words/languageNames.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { ConfirmButton } from '../../../ui/fields/ConfirmButton.tsx'
import type { InLanguage } from './useLanguage.ts'

interface Props {
  /** The message as it is, with all its languages. */
  step: Translated
  seen: InLanguage
  /** Sets what the message says in further languages. */
  onChange: (translations: Translated['translations']) => void
}

/** The languages of a message: which one is written, what of it is missing, one more, one less. */
export function LanguageBar({ step, seen, onChange }: Props): ReactNode {
  const { locale } = useShop()
  const { languages, language, choose } = seen
  const [own = locale, ...others] = languages
  const isFurther = language !== own
  const add = (tag: string) => {
    onChange({ ...step.translations, [tag]: {} })
    choose(tag)
  }
  const remove = () => {
    const { [language]: _gone, ...rest } = step.translations ?? {}
    onChange(Object.keys(rest).length === 0 ? undefined : rest)
    choose(own)
  }
  return (
    <div className="mb-3 border-b border-base-300 pb-3">
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="Languages">
        <Languages size={15} aria-hidden="true" className="mr-1 text-secondary" />
        {others.length > 0 &&
          languages.map((tag) => (
            <button
              key={tag}
              type="button"
              className={`btn btn-xs ${tag === language ? 'btn-neutral' : ''}`}
              aria-pressed={tag === language}
              onClick={() => choose(tag)}
            >
              {languageName(tag, locale)}
            </button>
          ))}
        {isFurther && (
          <ConfirmButton
            className="btn btn-ghost btn-xs btn-square"
            label={<X size={13} aria-hidden="true" />}
            ariaLabel={`Take out ${languageName(language, locale)}`}
            consequence={`What is written in ${languageName(language, locale)} goes. Its readers get the message in ${languageName(own, locale)}.`}
            confirm="Take it out"
            onConfirm={remove}
          />
        )}
        <AddLanguage has={languages} onAdd={add} isFirst={others.length === 0} />
      </div>
      {isFurther && <Missing step={step} language={language} own={own} />}
    </div>
  )
}

function Missing({ step, language, own }: { step: Translated; language: string; own: string }): ReactNode {
  const { locale } = useShop()
  const { parts, blocks } = untranslated(step, language)
  const what = [...parts, ...(blocks.length === 0 ? [] : [blocks.length === 1 ? 'one block' : `${blocks.length} blocks`])]
  if (what.length === 0) return <p className="mt-1 text-xs text-secondary">All of it is written.</p>
  return (
    <p className="mt-1 text-xs text-secondary">
      Still in {languageName(own, locale)}: {what.join(', ')}. Write over it here or on the message.
    </p>
  )
} // prettier-ignore

const OTHER = 'other'

function AddLanguage({
  has,
  onAdd,
  isFirst,
}: {
  has: readonly string[]
  onAdd: (tag: string) => void
  isFirst: boolean
}): ReactNode {
  const { locale } = useShop()
  const [typed, setTyped] = useState<string | null>(null)
  const primary = new Set(has.map((tag) => tag.split('-')[0]))
  const offered = Object.keys(FIXED_WORDS).filter((tag) => !primary.has(tag))
  const tag = languageTag.safeParse((typed ?? '').trim())
  if (typed !== null) {
    return (
      <form
        className="flex gap-1"
        onSubmit={(event: FormEvent) => {
          event.preventDefault()
          if (!tag.success || has.includes(tag.data)) return
          onAdd(tag.data)
          setTyped(null)
        }}
      >
        <input className="input input-xs w-24" aria-label="The language, like nl or pt-BR" placeholder="nl, pt-BR …" value={typed} onChange={(event) => setTyped(event.target.value)} />
        <button type="submit" className="btn btn-xs" disabled={!tag.success}>Add</button>
      </form>
    )
  }
  return (
    <select
      className="select select-xs w-auto"
      aria-label="Add a language"
      value=""
      onChange={({ target }) => (target.value === OTHER ? setTyped('') : onAdd(target.value))}
    >
      <option value="">{isFirst ? 'Write it in a further language' : 'Add …'}</option>
      {offered.map((one) => <option key={one} value={one}>{languageName(one, locale)}</option>)}
      <option value={OTHER}>another …</option>
    </select>
  )
} // prettier-ignore
