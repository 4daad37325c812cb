import type { Whose } from '@gavrin/core'
import { ChoiceSetting, TextSetting } from './fields'
import { PeopleSetting } from './PeopleSetting'
import { whoseWords } from './SectionNode'

interface Props {
  readonly title: string
  readonly whose: Whose
  readonly change: (attrs: { title?: string; whose?: Whose }) => void
}

/** What can be set about the section the caret is in. */
export function SectionSettings({ title, whose, change }: Props) {
  return (
    <section aria-label="Section">
      <h2>Section</h2>
      <TextSetting label="Title" limit={200} value={title} change={(text) => change({ title: text })} />
      <ChoiceSetting
        label="Whose part"
        value={whose.is}
        change={(is: Whose['is']) => change({ whose: is === 'named' ? { is, people: [] } : { is } })}
        choices={[
          ['everyone', 'everyone'],
          ['each member', 'each member of the group'],
          ['each group', 'each group of the class'],
          ['named', 'named people'],
        ]}
        hint={`Shown to ${whoseWords(whose)}. Try as student shows it with a real class.`}
      />
      {whose.is === 'named' && (
        <PeopleSetting people={whose.people} change={(people) => change({ whose: { is: 'named', people } })} />
      )}
    </section>
  )
}
