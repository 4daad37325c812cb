import { type ExtraTime, type Viewer, extraTimeOf, extraTimeProblem } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { Class, ClassMember } from '../access/access.entity.js'
import { holdInClass } from '../access/classRole.js'
import { malformed } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'

/** Who of a class has extra time: kept, and proposed whenever pens are to go down. */
@Injectable()
export class ExtraTimeService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async ofClass(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'hand out')
    const school = inSchool(this.source, viewer.schoolId)
    const [kept] = await school.find(Class, { id: classId }, { select: ['extraTime'] })
    const students = await school.find(
      ClassMember,
      { classId, role: 'student', leftAt: null },
      { select: ['personId', 'cells'] },
    )
    const rules = kept?.extraTime ?? []
    const found = extraTimeOf(rules, students)
    return { rules, students: [...found].map(([personId, percent]) => ({ personId, percent })) }
  }

  async keep(viewer: Viewer, classId: string, rules: readonly ExtraTime[]) {
    await holdInClass(this.source, viewer, classId, 'hand out')
    const problem = extraTimeProblem(rules)
    if (problem) throw malformed([problem])
    await inSchool(this.source, viewer.schoolId).update(Class, { id: classId }, { extraTime: [...rules] })
    return this.ofClass(viewer, classId)
  }
}
