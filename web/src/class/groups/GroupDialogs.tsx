import { type Arrangement, type Group, checkArrangement, foldText, groupNames, joined } from '@gavrin/core'
import { ApiError } from '../../ui/api'
import { AskName } from '../AskName'
import type { ClassOpened, GroupSet, Student } from '../queries'
import type { GroupAsk } from './GroupParts'
import { MakeGroups } from './MakeGroups'
import { SetSettings } from './SetSettings'
import { arrangementOf, type useArrangement } from './useArrangement'

/** The dialogs of a group set, one at a time. */
export function GroupDialogs({
  asking,
  opened,
  students,
  set,
  work,
  close,
}: {
  readonly asking: GroupAsk | { readonly rename: Group } | null
  readonly opened: ClassOpened
  readonly students: readonly Student[]
  readonly set: GroupSet
  readonly work: ReturnType<typeof useArrangement>
  readonly close: () => void
}) {
  const arrangement = arrangementOf(set)
  return (
    <>
      {asking === 'make' && (
        <MakeGroups
          opened={opened}
          students={students}
          set={set}
          close={close}
          made={async (next, balance) => {
            // What was spread evenly is what the groups show from now on.
            const [first] = balance
            if ((await work.arrange(next)) && first && !balance.includes(set.balanceColumn ?? ''))
              await work.showColumn(first)
          }}
        />
      )}
      {asking === 'settings' && <SetSettings classId={opened.id} set={set} close={close} />}
      {asking === 'group' && (
        <AskName
          title="Add a group"
          label="Name of the group"
          name={
            groupNames(
              1,
              set.groups.map(({ name }) => name),
            )[0]!
          }
          done="Add it"
          close={close}
          keep={(name) =>
            keepNamed(work, {
              ...arrangement,
              groups: [...set.groups, { id: crypto.randomUUID(), name, places: null, personIds: [] }],
            })
          }
        />
      )}
      {asking !== null && typeof asking === 'object' && (
        <AskName
          title="Rename the group"
          label="Name of the group"
          name={asking.rename.name}
          done="Rename it"
          close={close}
          keep={(name) => {
            // Renamed to what another one is called, two become one.
            const other = set.groups.find(
              (group) => group.id !== asking.rename.id && foldText(group.name) === foldText(name),
            )
            return keepNamed(
              work,
              other
                ? joined(arrangement, other.id, asking.rename.id)
                : {
                    ...arrangement,
                    groups: set.groups.map((group) => (group.id === asking.rename.id ? { ...group, name } : group)),
                  },
            )
          }}
        />
      )}
    </>
  )
}

async function keepNamed(work: ReturnType<typeof useArrangement>, next: Arrangement): Promise<void> {
  const checked = checkArrangement(next)
  if (!checked.ok) throw new ApiError(422, 'group-name', checked.problems[0]!.sentence, checked.problems)
  await work.arrange(checked.value)
}
