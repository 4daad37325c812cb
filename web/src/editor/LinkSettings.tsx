import { isLinkAddress } from '@gavrin/core'
import { TextSetting } from './fields'
import type { LinkAttrs } from './printNodes'

/** What can be set about the link that is selected. */
export function LinkSettings({ card, change }: { card: LinkAttrs; change: (card: LinkAttrs) => void }) {
  return (
    <section aria-label="Link">
      <h2>Link</h2>
      <TextSetting
        label="Address"
        value={card.url}
        problem={isLinkAddress(card.url) ? null : 'Begin with https:// or http://.'}
        change={(url) => change({ ...card, url: url.trim() })}
      />
      <TextSetting label="Title" limit={200} value={card.title} change={(title) => change({ ...card, title })} />
      <TextSetting label="Note" rows={2} limit={500} value={card.note} change={(note) => change({ ...card, note })} />
    </section>
  )
}
