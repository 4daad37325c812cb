import { type RosterMember, fullName } from '@gavrin/core'
import { Button, Form } from 'react-bootstrap'

interface Props {
  readonly missing: readonly RosterMember[]
  readonly leaving: ReadonlySet<string>
  readonly change: (leaving: ReadonlySet<string>) => void
}

/** Who is in the class and not in the list: they stay, unless they are ticked. */
export function MissingStudents({ missing, leaving, change }: Props) {
  if (missing.length === 0) return null
  const toggle = (id: string) => {
    const next = new Set(leaving)
    if (!next.delete(id)) next.add(id)
    change(next)
  }
  const all = missing.every(({ personId }) => leaving.has(personId))
  return (
    <section className="missing" aria-labelledby="missing-title">
      <h3 id="missing-title">Missing from the list</h3>
      <p className="soft">
        In the class and not in this list. They stay; tick who has left. Their work is kept and they can come back.{' '}
        <Button
          size="sm"
          variant="link"
          onClick={() => change(all ? new Set() : new Set(missing.map(({ personId }) => personId)))}
        >
          {all ? 'Tick nobody' : `Tick all ${missing.length}`}
        </Button>
      </p>
      <div className="missing-people">
        {missing.map((member) => (
          <Form.Check
            key={member.personId}
            id={`leaves-${member.personId}`}
            label={<bdi>{fullName(member)}</bdi>}
            checked={leaving.has(member.personId)}
            onChange={() => toggle(member.personId)}
          />
        ))}
      </div>
    </section>
  )
}
