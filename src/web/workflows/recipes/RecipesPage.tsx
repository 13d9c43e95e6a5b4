import { useIsFetching, useMutation } from '@tanstack/react-query'
import { useEffect, useState, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import { mayBuild } from '../../../contract/roles.ts'
import { RECIPES, type Recipe } from '../../../core/recipes/index.ts'
import type { RecipeShop } from '../../../core/recipes/parts.ts'
import { layoutTimetable } from '../../../core/timetable/layout.ts'
import { triggerWords } from '../../../core/words/triggers.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { sendJson } from '../../ui/data/api.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { useSession } from '../../ui/data/shop.tsx'
import { useAddressBook } from '../../ui/data/useAddressBook.ts'
import { useProducts } from '../../ui/data/useProducts.ts'
import { useWords, WordsProvider } from '../../ui/data/words.tsx'
import { miniGeometry } from './miniGeometry.ts'
import { MiniTimetable } from './MiniTimetable.tsx'
import { madeAfter } from '../newSteps.ts'
import { useCategories } from './useCategories.ts'
import { useTryOut } from './useTryOut.ts'

/** Starting points for workflows, with the shop's own categories, products, currency and sender. */
export function RecipesPage(): ReactNode {
  return (
    <WordsProvider>
      <Recipes />
    </WordsProvider>
  )
}

function Recipes(): ReactNode {
  const { shop, user } = useSession()
  const navigate = useNavigate()
  const categories = useCategories()
  const book = useAddressBook()
  // Made before what the shop has is known, a recipe would lack its paths and recipients.
  const isAsking = useIsFetching() > 0 && (!categories || !book)
  const tryOut = useTryOut()
  const use = useMutation({
    mutationFn: async (made: { key: string; definition: Definition }) => {
      const definition = await tryOut(madeAfter(made.definition))
      return sendJson('POST', '/api/workflows', z.object({ id: z.string() }), { definition })
    },
    onSuccess: ({ id }) => navigate(`/workflows/${id}`),
    onError: (error) => toast.error(error.message),
  })
  const ingredients = {
    name: shop.name,
    currency: shop.currency,
    sender: shop.defaultSender,
    categories: categories ?? [],
    groups: book?.groups.map(({ key }) => key) ?? [],
  }
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <Link to="/workflows" className="link text-xs">
        ← Workflows
      </Link>
      <PageHeading title="Recipes" className="mt-1 text-xl" />
      <p className="mb-3 text-secondary">
        Each makes a draft of yours, to be read, changed and completed. Nothing is sent until it
        goes live.
      </p>
      <ul className="grid grid-flow-row-dense grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-3">
        {RECIPES.map((recipe) => (
          <RecipeCard
            key={recipe.key}
            recipe={recipe}
            ingredients={ingredients}
            isAsking={isAsking}
            onUse={
              mayBuild(user.role)
                ? (definition) => use.mutate({ key: recipe.key, definition })
                : undefined
            }
            isTried={use.isPending && use.variables.key === recipe.key}
          />
        ))}
      </ul>
    </div>
  )
}

interface CardProps {
  recipe: Recipe
  ingredients: Omit<RecipeShop, 'product'>
  /** What the shop has is not known yet. */
  isAsking: boolean
  onUse: ((definition: Definition) => void) | undefined
  /** Its draft is on the way. */
  isTried: boolean
}

/** How wide a timetable is at most, in pixels, in a card of one column; wider ones take two. */
const ROOM = 372

/** Stands in a recipe about a product until one is chosen. */
const SOME_PRODUCT = { id: '', title: '…' }

function RecipeCard({ recipe, ingredients, isAsking, onUse, isTried }: CardProps): ReactNode {
  const words = useWords()
  const products = useProducts()
  const [chosen, setChosen] = useState<string | null>(null)
  const [isWanted, setWanted] = useState(false)
  const product = products.find(({ id }) => id === chosen)
  const definition = recipe.make({ ...ingredients, product: product ?? SOME_PRODUCT })
  const layout = layoutTimetable(definition)
  const geometry = miniGeometry(layout)
  const isReady = recipe.asks === undefined || product !== undefined
  // Chosen before what the shop has is known, it is made as soon as that is.
  const canMake = isWanted && !isAsking
  useEffect(() => {
    if (!canMake) return
    setWanted(false)
    onUse?.(definition)
    // It is made once for each press, of what the shop has at that moment.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [canMake])
  return (
    <li className={`panel flex flex-col gap-2 p-3 ${geometry.width > ROOM ? 'md:col-span-2' : ''}`}>
      <h2 className="text-base">{definition.name}</h2>
      <p className="text-secondary">{recipe.purpose}</p>
      <p className="text-xs">
        <span className="chip">{triggerWords(unnamed(definition, isReady), words)}</span>
      </p>
      <div className="flex min-h-16 flex-1 items-center overflow-hidden">
        <MiniTimetable layout={layout} geometry={geometry} />
      </div>
      {onUse && recipe.asks === 'product' && (
        <ChoiceField
          label="Which product?"
          value={chosen ?? ''}
          choices={choicesOf(products)}
          onChange={(id) => setChosen(id === '' ? null : id)}
        />
      )}
      {onUse && (
        <button
          type="button"
          className="btn btn-sm self-start"
          aria-label={`Use the recipe ${definition.name}`}
          disabled={!isReady || isWanted || isTried}
          onClick={() => setWanted(true)}
        >
          {isWanted && isAsking
            ? 'Looking at what the shop sells…'
            : isTried
              ? 'Trying it out…'
              : 'Use it'}
        </button>
      )}
    </li>
  )
}

/** The trigger, without the filter for as long as it names nothing. */
function unnamed({ trigger }: Definition, isReady: boolean): Definition['trigger'] {
  const { filter: _filter, ...bare } = trigger
  return isReady ? trigger : bare
}

const choicesOf = (products: readonly { id: string; title: string }[]): Record<string, string> => ({
  '': products.length === 0 ? 'none is known yet' : 'choose one',
  ...Object.fromEntries(products.map(({ id, title }) => [id, title])),
})
