import type { Statement } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { api, sentenceOf } from '../ui/api'
import { OVER_PAGE } from '../ui/overPage'
import { type Recipe, recipesKey, useRecipes } from './queries'
import type { Bodies } from '../contract'

interface Props {
  readonly statement: Statement
  readonly use: (recipe: Statement) => void
}

/** Shapes of slips kept for use with other worksheets. */
export function RecipeMenu({ statement, use }: Props) {
  const client = useQueryClient()
  const recipes = useRecipes()
  const [name, setName] = useState('')
  const keep = useMutation({
    mutationFn: () => api.post<Recipe[]>('recipes', { name, statement } satisfies Bodies['POST recipes']),
    onSuccess: (list) => {
      client.setQueryData(recipesKey, list)
      setName('')
    },
  })
  const remove = useMutation({
    mutationFn: (id: string) => api.delete<void>(`recipes/${id}`),
    onSuccess: () => client.invalidateQueries({ queryKey: recipesKey }),
  })
  const trouble = keep.error ?? remove.error
  return (
    <Dropdown autoClose="outside" className="add-token">
      <Dropdown.Toggle variant="link" size="sm" id="recipes">
        Recipes
      </Dropdown.Toggle>
      <Dropdown.Menu className="blank-menu" popperConfig={OVER_PAGE}>
        {recipes.data?.map((recipe) => (
          <div key={recipe.id} className="recipe-line">
            <button type="button" className="btn btn-link btn-sm" onClick={() => use(recipe.statement)}>
              <bdi>{recipe.name}</bdi>
            </button>
            <Button
              variant="link"
              size="sm"
              aria-label={`Throw the recipe ${recipe.name} away`}
              onClick={() => remove.mutate(recipe.id)}
            >
              ×
            </Button>
          </div>
        ))}
        {recipes.data?.length === 0 && (
          <div className="blank-empty soft">
            A recipe is the shape of a slip without its worksheets: way, permissions, names, cover note, marking.
          </div>
        )}
        <form
          className="blank-find recipe-new"
          onSubmit={(event) => {
            event.preventDefault()
            keep.mutate()
          }}
        >
          <Form.Control
            size="sm"
            aria-label="Name of the recipe"
            placeholder="Keep this shape as …"
            maxLength={80}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
          <Button type="submit" size="sm" variant="outline-dark" disabled={!name.trim() || keep.isPending}>
            Keep
          </Button>
        </form>
        {trouble && <div className="blank-empty bad">{sentenceOf(trouble)}</div>}
      </Dropdown.Menu>
    </Dropdown>
  )
}
