import { PRINT_COLOURS, type PrintColour } from '@gavrin/core'
import { Mark, mergeAttributes } from '@tiptap/core'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    printMarks: {
      /** Puts what is selected in a colour of print, or in none. */
      setPrintColour: (name: PrintColour | null) => ReturnType
    }
  }
}

/** Print in one of its colours. */
export const Colour = Mark.create({
  name: 'colour',
  addAttributes() {
    return {
      name: {
        default: 'tide',
        parseHTML: (element) => {
          const name = element.getAttribute('data-colour')
          return PRINT_COLOURS.find((colour) => colour === name) ?? 'tide'
        },
        renderHTML: ({ name }) => ({ 'data-colour': String(name), class: `colour-${String(name)}` }),
      },
    }
  },
  parseHTML: () => [{ tag: 'span[data-colour]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', mergeAttributes(HTMLAttributes), 0],
  addCommands() {
    return {
      setPrintColour:
        (name) =>
        ({ commands }) =>
          name ? commands.setMark('colour', { name }) : commands.unsetMark('colour'),
    }
  },
})

/** Print set low: H₂O. */
export const Sub = Mark.create({
  name: 'sub',
  excludes: 'sup',
  parseHTML: () => [{ tag: 'sub' }],
  renderHTML: () => ['sub', 0],
  addKeyboardShortcuts() {
    return { 'Mod-,': () => this.editor.commands.toggleMark('sub') }
  },
})

/** Print set high: m². */
export const Sup = Mark.create({
  name: 'sup',
  excludes: 'sub',
  parseHTML: () => [{ tag: 'sup' }],
  renderHTML: () => ['sup', 0],
  addKeyboardShortcuts() {
    return { 'Mod-.': () => this.editor.commands.toggleMark('sup') }
  },
})
