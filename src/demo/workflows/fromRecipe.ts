import { RECIPES } from '../../core/recipes/index.ts'
import type { RecipeShop } from '../../core/recipes/parts.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { updateStep } from '../../core/workflow/edit.ts'
import { allSteps } from '../../core/workflow/lists.ts'
import type { EmailStep, NoteStep, SmsStep, Step } from '../../core/workflow/steps.ts'
import { productId, SHOP_SENDER } from './shared.ts'

/** The demo's shop, as recipes ask for it. */
const COMBWRIGHT: RecipeShop = {
  name: 'Combwright',
  currency: 'EUR',
  sender: SHOP_SENDER,
  categories: [],
  groups: ['care', 'founder'],
  product: { id: productId('Reading the Frame'), title: 'Reading the Frame' },
}

/** What a message says in the shop's own words; a designed one has blocks, any other a body. */
type Words = Partial<Omit<EmailStep, 'key' | 'kind'>> &
  Partial<Pick<SmsStep, 'body'>> &
  Partial<Pick<NoteStep, 'to'>>

/**
 * A workflow as somebody makes it of a recipe: what starts it and when it goes on are the recipe's,
 * except for what `own` says; its messages have the shop's own words, by their keys. Throws on a recipe
 * or a message that there is not, and on a message that is left with the recipe's words.
 */
export function fromRecipe(
  key: string,
  own: Partial<Omit<Definition, 'steps'>>,
  words: Readonly<Record<string, Words>>,
  product = COMBWRIGHT.product,
): Definition {
  const recipe = RECIPES.find((one) => one.key === key)
  if (!recipe) throw new Error(`There is no recipe “${key}”`)
  const made = { ...recipe.make({ ...COMBWRIGHT, product }), ...own }
  const messages = allSteps(made.steps).filter(isWritten)
  const odd = Object.keys(words).find((name) => !messages.some((step) => step.key === name))
  if (odd !== undefined) throw new Error(`The recipe “${key}” has no message “${odd}”`)
  return messages.reduce((definition, step) => {
    const said = words[step.key]
    if (!said)
      throw new Error(`“${step.key}” of the recipe “${key}” has no words of the shop’s own`)
    return updateStep(definition, step.key, (before) => inOwnWords(before, said))
  }, made)
}

const isWritten = ({ kind }: Step): boolean => kind === 'email' || kind === 'sms' || kind === 'note'

function inOwnWords(step: Step, words: Words): Step {
  if (step.kind === 'email') {
    const { blocks: _blocks, ...rest } = step
    return { ...rest, ...words }
  }
  // Who is named gets it instead of the groups.
  if (step.kind === 'note' && words.to) {
    const { groups: _groups, ...rest } = step
    return { ...rest, ...words }
  }
  return { ...step, ...words }
}
