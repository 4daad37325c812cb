import { Extension } from '@tiptap/core'
import { closeHistory } from '@tiptap/pm/history'
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state'

const key = new PluginKey('ownStep')

/** Makes a deed a step of undo by itself, however quickly others come before and after it. */
export const ownStep = (tr: Transaction): Transaction => closeHistory(tr).setMeta(key, true)

/** Ends the step of undo of a deed that is one by itself. */
export const OwnSteps = Extension.create({
  name: 'ownSteps',
  addProseMirrorPlugins: () => [
    new Plugin({
      key,
      appendTransaction: (transactions, _, state) =>
        transactions.some((tr) => tr.getMeta(key)) ? closeHistory(state.tr) : null,
    }),
  ],
})
