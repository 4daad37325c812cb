import { type ClassRole, NOT_THERE, type Ruling, type Viewer, allowed, denied } from './viewer.js'

export type ClassAction = 'see the class' | 'see the roster' | 'change the roster' | 'see handouts' | 'hand out'

/** Whether somebody may do something with a class of their school. */
export function mayInClass(role: ClassRole, action: ClassAction): Ruling {
  switch (role) {
    case 'lead':
    case 'co-teacher':
      return allowed(role)
    case 'helper':
      return action === 'change the roster' || action === 'hand out'
        ? denied('helper-looks', 'Helpers see this class; its teachers change it.')
        : allowed(role)
    case 'student':
      return action === 'see the class' ? allowed(role) : NOT_THERE
    default:
      return NOT_THERE
  }
}

export type WorksheetAction = 'see' | 'change' | 'give out'

/** Whether somebody may do something with a worksheet of the library. */
export function mayWithWorksheet(
  viewer: Viewer,
  worksheet: { readonly schoolId: string; readonly ownerId: string },
  _action: WorksheetAction,
): Ruling {
  if (viewer.schoolId !== worksheet.schoolId || viewer.role !== 'teacher') return NOT_THERE
  return viewer.personId === worksheet.ownerId ? allowed('owner') : NOT_THERE
}

/** Whether somebody may begin worksheets and has a desk with classes. */
export function mayTeach(viewer: Viewer): Ruling {
  return viewer.role === 'teacher' ? allowed('teacher') : NOT_THERE
}
