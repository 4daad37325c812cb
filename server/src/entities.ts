import { ACCESS_ENTITIES } from './access/access.entity.js'
import { ACCOUNT_ENTITIES } from './account/account.entity.js'
import { AUTOMATION_ENTITIES } from './automation/automation.entity.js'
import { BOARD_ENTITIES } from './board/board.entity.js'
import { BRING_IN_ENTITIES } from './bringIn/bringIn.entity.js'
import { CALENDAR_ENTITIES } from './calendar/calendar.entity.js'
import { COMMENT_ENTITIES } from './comment/comment.entity.js'
import { COPY_ENTITIES } from './copy/copy.entity.js'
import { GROUP_ENTITIES } from './group/group.entity.js'
import { SLIP_ENTITIES } from './slip/slip.entity.js'
import { JOIN_ENTITIES } from './join/join.entity.js'
import { KEPT_ENTITIES } from './kept/kept.entity.js'
import { MAIL_ENTITIES } from './mail/mail.entity.js'
import { MARK_ENTITIES } from './kept/mark.entity.js'
import { MARKING_ENTITIES } from './marking/marking.entity.js'
import { MEDIA_ENTITIES } from './media/media.entity.js'
import { PENS_ENTITIES } from './pens/pens.entity.js'
import { PEOPLE_ENTITIES } from './people/people.entity.js'
import { REMINDER_ENTITIES } from './reminder/reminder.entity.js'
import { ROSTER_ENTITIES } from './roster/roster.entity.js'
import { SAVED_COPIES_ENTITIES } from './savedCopies/savedCopies.entity.js'
import { WORKSHEET_ENTITIES } from './worksheet/worksheet.entity.js'

/** All tables: what the migrations make, told once more as the program reads it. `entities.test.ts` holds that they agree. */
export const ENTITIES = [
  ...ACCESS_ENTITIES,
  ...ACCOUNT_ENTITIES,
  ...AUTOMATION_ENTITIES,
  ...BOARD_ENTITIES,
  ...BRING_IN_ENTITIES,
  ...CALENDAR_ENTITIES,
  ...COMMENT_ENTITIES,
  ...COPY_ENTITIES,
  ...GROUP_ENTITIES,
  ...SLIP_ENTITIES,
  ...JOIN_ENTITIES,
  ...KEPT_ENTITIES,
  ...MAIL_ENTITIES,
  ...MARK_ENTITIES,
  ...MARKING_ENTITIES,
  ...MEDIA_ENTITIES,
  ...PENS_ENTITIES,
  ...PEOPLE_ENTITIES,
  ...REMINDER_ENTITIES,
  ...ROSTER_ENTITIES,
  ...SAVED_COPIES_ENTITIES,
  ...WORKSHEET_ENTITIES,
]
