import { type ChoiceSpace, chooseOne } from '@gavrin/core'
import { useId } from 'react'
import { ownHistory, undoByKey } from './ownUndo'
import { type SpaceProps, optionsShown } from './place'
import { useSheet } from './surroundings'
import { useAnswer } from './useAnswer'

/** The options of a choice, to choose of them. */
export function ChoiceField({ space, doc, label }: SpaceProps<ChoiceSpace>) {
  const name = useId()
  const { seed } = useSheet()
  const options = optionsShown(space, seed)
  const value = useAnswer(space, doc)
  // From here on what is chosen can be undone.
  ownHistory(doc, space, 0)
  const chosen = 'chosen' in value ? value.chosen : []
  const set = (id: string, on: boolean) => {
    if (!space.many) return chooseOne(doc, on ? id : null)
    const root = doc.getMap('choice')
    doc.transact(() => {
      // Chosen when one alone could be, it is one of several now.
      for (const other of chosen) if (root.get(other) !== true) root.set(other, true)
      if (root.get(id) !== on) root.set(id, on)
    })
  }
  return (
    <fieldset
      className="options"
      onKeyDown={(event) => {
        if (undoByKey(event)) return
        if (space.many || (event.key !== 'Delete' && event.key !== 'Backspace')) return
        event.preventDefault()
        chooseOne(doc, null)
      }}
    >
      <legend className="visually-hidden">{label}</legend>
      {options.map(({ id, text }) => (
        <label key={id} className={chosen.includes(id) ? 'option chosen' : 'option'}>
          <input
            type={space.many ? 'checkbox' : 'radio'}
            name={name}
            checked={chosen.includes(id)}
            onChange={({ target }) => set(id, target.checked)}
          />
          <span dir="auto">{text}</span>
        </label>
      ))}
      {!space.many && chosen.length > 0 && (
        <button type="button" className="no-answer" onClick={() => chooseOne(doc, null)}>
          No answer
        </button>
      )}
    </fieldset>
  )
}
