import { type Viewer, mayInClass, mayRunOffice, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, Not } from 'typeorm'
import { notThere } from '../common/problemDetails.js'
import { classRole, helpedBy } from '../access/classRole.js'
import { formPeople, patternsOf } from './peopleForms.js'
import { type FoundPerson, peopleFound, classesOfPerson, groupsOfPerson, copiesOfPerson } from './people.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { withSpaces } from '../kept/counted.js'
import type { CopyOfPerson } from './people.queries.js'

@Injectable()
export class PeopleService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * People whose name, e-mail or student number has the words typed: of one's own classes, or for the office of the school. Those
   * who are called so from the beginning of a word come first.
   */
  async find(viewer: Viewer, typed: string): Promise<FoundPerson[]> {
    const all = mayRunOffice(viewer).may
    if (!all && !mayTeach(viewer).may) throw notThere()
    const patterns = patternsOf(typed)
    if (patterns.length === 0) return []
    await formPeople(this.source, viewer.schoolId)
    return peopleFound(this.source, viewer.schoolId, {
      personId: viewer.personId,
      all,
      patterns,
      findForm: `% ${patterns.map((word) => word.slice(1, -1)).join(' ')}%`,
    })
  }

  /** The page of a person: classes, groups, and all copies with their states, as far as the viewer may see them. */
  async person(viewer: Viewer, personId: string) {
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: personId, mergedInto: null, role: Not('guest') },
      { select: ['first', 'last', 'email', 'number', 'role', 'passwordHash'] },
    )
    if (!found) throw notThere()
    const { passwordHash, ...about } = found
    const person = { personId, ...about, canSignIn: passwordHash !== null }
    const office = mayRunOffice(viewer).may
    const all = await classesOfPerson(this.source, viewer.schoolId, personId)
    const seen: typeof all = []
    const own: string[] = []
    for (const found of all) {
      const { role } = await classRole(this.source, viewer, found.id)
      const helped = await helpedBy(this.source, viewer, found.id, role)
      const may = mayInClass(role, 'see the roster').may && (!helped || helped.has(personId))
      if (may) own.push(found.id)
      if (may || office) seen.push(may ? found : { ...found, cells: {}, columns: [] })
    }
    if (seen.length === 0 && !office) throw notThere()
    const groups = await groupsOfPerson(
      this.source,
      viewer.schoolId,
      personId,
      seen.map(({ id }) => id),
    )
    // The office keeps accounts; work is between a student and the staff of the class.
    const copies = withSpaces<CopyOfPerson>(await copiesOfPerson(this.source, viewer.schoolId, personId, own))
    return { person, classes: seen, groups, copies }
  }
}
