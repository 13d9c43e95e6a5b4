import { useMutation } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import { RECIPES, type Recipe } from '../../../core/recipes/index.ts'
import { triggerWords } from '../../../core/words/triggers.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { sendJson } from '../../ui/api.ts'
import { useSession } from '../../ui/shop.tsx'
import { useWords } from '../useWords.ts'
import { MiniTimetable } from './MiniTimetable.tsx'

/** Starting points for workflows, with the shop's own name, currency and sender in them. */
export function RecipesPage(): ReactNode {
  const { shop, user } = useSession()
  const navigate = useNavigate()
  const use = useMutation({
    mutationFn: (definition: Definition) =>
      sendJson('POST', '/api/workflows', z.object({ id: z.string() }), { definition }),
    onSuccess: ({ id }) => navigate(`/workflows/${id}`),
    onError: (error) => toast.error(error.message),
  })
  const ingredients = { name: shop.name, currency: shop.currency, sender: shop.defaultSender }
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <Link to="/workflows" className="link text-xs">
        ← Workflows
      </Link>
      <h1 className="mt-1 text-xl">Recipes</h1>
      <p className="mb-3 text-secondary">
        Each makes a draft of yours, to be read, changed and completed. Nothing is sent until it
        goes live.
      </p>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-3">
        {RECIPES.map((recipe) => (
          <RecipeCard
            key={recipe.key}
            recipe={recipe}
            definition={recipe.make(ingredients)}
            onUse={user.role === 'marketer' ? (definition) => use.mutate(definition) : undefined}
          />
        ))}
      </ul>
    </div>
  )
}

interface CardProps {
  recipe: Recipe
  definition: Definition
  onUse: ((definition: Definition) => void) | undefined
}

function RecipeCard({ recipe, definition, onUse }: CardProps): ReactNode {
  const words = useWords()
  return (
    <li className="panel flex flex-col gap-2 p-3">
      <h2 className="text-base">{definition.name}</h2>
      <p className="text-secondary">{recipe.purpose}</p>
      <p className="text-xs">
        <span className="chip">{triggerWords(definition.trigger, words)}</span>
      </p>
      <div className="flex min-h-16 flex-1 items-center overflow-hidden">
        <MiniTimetable definition={definition} />
      </div>
      {onUse && (
        <button
          type="button"
          className="btn btn-sm self-start"
          aria-label={`Use the recipe ${definition.name}`}
          onClick={() => onUse(definition)}
        >
          Use it
        </button>
      )}
    </li>
  )
}
