import { Comment, CommentMention, CommentThread, SeenComments } from '../comment/comment.entity.js'
import type { EntityManager } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { AccessToken, ClassMember } from '../access/access.entity.js'
import { Webhook } from '../automation/automation.entity.js'
import { GroupMember } from '../group/group.entity.js'
import { CalendarAddress } from '../calendar/calendar.entity.js'
import { PeerReading } from '../copy/copy.entity.js'
import { CopyLook } from '../board/board.entity.js'
import { SavedCopies } from '../savedCopies/savedCopies.entity.js'
import { Reminder } from '../reminder/reminder.entity.js'
import { PensAct } from '../pens/pens.entity.js'
import { HandedBack, Mark } from '../kept/mark.entity.js'
import {
  HandBackLater,
  PaperMark,
  PenMarkRow,
  SecondReading,
  StockRemark,
  KeptRubricRow,
  StudentNote,
} from '../marking/marking.entity.js'
import { CopyHolder, CopyReader } from '../kept/kept.entity.js'
import { AccountLink, Message } from '../mail/mail.entity.js'
import { GuestMatched, OwnCopyMade, Recipe, WalkInUse } from '../slip/slip.entity.js'
import { Worksheet } from '../worksheet/worksheet.entity.js'

/** What nobody else in a school may have too. */
interface Identity {
  readonly email: string | null
  readonly email_key: string | null
  readonly number: string | null
  readonly number_key: string | null
  readonly card_name: string | null
  readonly password_hash: string | null
}

/** Takes what is somebody's alone off a record that goes on as another one, for this one. Raw: changes and reads what was. */
async function emptied(tx: EntityManager, schoolId: string, id: string, keptId: string): Promise<Identity> {
  const [was] = await inSchool(tx, schoolId).rows<Identity>(
    `WITH was AS (SELECT * FROM person WHERE school_id = $1 AND id = $2)
     UPDATE person p SET email = NULL, email_key = NULL, number = NULL, number_key = NULL, card_name = NULL, password_hash = NULL, merged_into = $3
       FROM was WHERE p.school_id = was.school_id AND p.id = was.id
     RETURNING was.email, was.email_key, was.number, was.number_key, was.card_name, was.password_hash`,
    id,
    keptId,
  )
  return was!
}

/**
 * Gives all that is a person's to another record of the same person: classes, groups, copies, worksheets, and what the other
 * record knows and this one does not. The other record stays as an empty one, so that the journal keeps its names. Raw: sets by
 * other sets, in one order.
 */
export async function mergePeople(
  tx: EntityManager,
  schoolId: string,
  keepId: string,
  otherId: string,
): Promise<{ classIds: string[]; copies: number }> {
  const classes = await inSchool(tx, schoolId).rows<{ class_id: string }>(
    'SELECT class_id FROM class_member WHERE school_id = $1 AND person_id IN ($2, $3) ORDER BY class_id FOR UPDATE',
    keepId,
    otherId,
  )
  // In a class of both: present if either is, with the cells of the one that is kept before those of the other.
  await inSchool(tx, schoolId).rows(
    `INSERT INTO class_member (school_id, class_id, person_id, role, joined_at, left_at, cells)
     SELECT school_id, class_id, $2, role, joined_at, left_at, cells FROM class_member WHERE school_id = $1 AND person_id = $3
     ON CONFLICT (school_id, class_id, person_id) DO UPDATE SET
       joined_at = least(class_member.joined_at, EXCLUDED.joined_at),
       left_at = CASE WHEN class_member.left_at IS NULL OR EXCLUDED.left_at IS NULL THEN NULL ELSE greatest(class_member.left_at, EXCLUDED.left_at) END,
       cells = EXCLUDED.cells || class_member.cells`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).rows(
    `INSERT INTO helped_student (school_id, class_id, helper_id, student_id)
     SELECT school_id, class_id, CASE helper_id WHEN $3 THEN $2 ELSE helper_id END, CASE student_id WHEN $3 THEN $2 ELSE student_id END
       FROM helped_student WHERE school_id = $1 AND $3 IN (helper_id, student_id) ON CONFLICT DO NOTHING`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).write(
    'DELETE FROM helped_student WHERE school_id = $1 AND $2 IN (helper_id, student_id)',
    otherId,
  )
  await inSchool(tx, schoolId).delete(ClassMember, { personId: otherId })

  await inSchool(tx, schoolId).write(
    `UPDATE group_member o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM group_member k WHERE k.school_id = o.school_id AND k.set_id = o.set_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(GroupMember, { personId: otherId })
  await inSchool(tx, schoolId).rows(
    `INSERT INTO group_pair (school_id, set_id, person_a, person_b, kind)
     SELECT school_id, set_id, least($2::uuid, mate), greatest($2::uuid, mate), kind
       FROM (SELECT *, CASE person_a WHEN $3 THEN person_b ELSE person_a END AS mate FROM group_pair WHERE school_id = $1 AND $3 IN (person_a, person_b)) p
      WHERE mate <> $2 ON CONFLICT DO NOTHING`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).write(
    'DELETE FROM group_pair WHERE school_id = $1 AND $2 IN (person_a, person_b)',
    otherId,
  )

  // The slot of a copy names its holder: a copy whose slot is free goes on under the new name, so that it is not given again.
  await inSchool(tx, schoolId).write(
    `UPDATE copy c SET slot_key = replace(c.slot_key, $3::text, $2::text)
       FROM copy_holder o WHERE o.school_id = $1 AND o.person_id = $3::uuid AND c.school_id = o.school_id AND c.id = o.copy_id AND position($3::text IN c.slot_key) > 0
        AND NOT EXISTS (SELECT 1 FROM copy k WHERE k.school_id = c.school_id AND k.handout_id = c.handout_id AND k.slot_key = replace(c.slot_key, $3::text, $2::text))`,
    keepId,
    otherId,
  )
  const copies = await inSchool(tx, schoolId).write(
    `UPDATE copy_holder o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM copy_holder k WHERE k.school_id = o.school_id AND k.copy_id = o.copy_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(CopyHolder, { personId: otherId })
  await inSchool(tx, schoolId).write(
    `UPDATE copy_reader o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM copy_reader k WHERE k.school_id = o.school_id AND k.copy_id = o.copy_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(CopyReader, { personId: otherId })
  await inSchool(tx, schoolId).write(
    `UPDATE copy SET places = replace(places::text, $3::text, $2::text)::jsonb WHERE school_id = $1 AND position($3::text IN places::text) > 0`,
    keepId,
    otherId,
  )
  for (const column of ['statement', 'given'])
    await inSchool(tx, schoolId).write(
      `UPDATE handout SET ${column} = replace(${column}::text, $3::text, $2::text)::jsonb WHERE school_id = $1 AND position($3::text IN ${column}::text) > 0`,
      keepId,
      otherId,
    )
  await inSchool(tx, schoolId).update(Message, { personId: otherId }, { handoutId: null, noticeKey: null })
  // A notice that both were sent stands once; the key names whom it is to.
  await inSchool(tx, schoolId).write(
    `DELETE FROM notice n USING notice k WHERE n.school_id = $1 AND $3::uuid IN (n.person_id, n.about_id) AND k.school_id = n.school_id AND k.handout_id = n.handout_id
        AND k.notice_key = replace(n.notice_key, $3::text, $2::text)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).write(
    `UPDATE notice SET notice_key = replace(notice_key, $3::text, $2::text), person_id = CASE person_id WHEN $3::uuid THEN $2::uuid ELSE person_id END,
            about_id = CASE about_id WHEN $3::uuid THEN $2::uuid ELSE about_id END WHERE school_id = $1 AND $3::uuid IN (person_id, about_id)`,
    keepId,
    otherId,
  )
  for (const table of ['mark', 'handed_back']) {
    const at = table === 'mark' ? '' : 'AND k.at = o.at'
    await inSchool(tx, schoolId).write(
      `UPDATE ${table} o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
          AND NOT EXISTS (SELECT 1 FROM ${table} k WHERE k.school_id = o.school_id AND k.copy_id = o.copy_id AND k.person_id = $2 ${at})`,
      keepId,
      otherId,
    )
  }
  await inSchool(tx, schoolId).write(
    `UPDATE paper_mark o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM paper_mark k WHERE k.school_id = o.school_id AND k.column_id = o.column_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(PaperMark, { personId: otherId })
  await inSchool(tx, schoolId).update(PaperMark, { changedBy: otherId }, { changedBy: keepId })
  await inSchool(tx, schoolId).update(Mark, { changedBy: otherId }, { changedBy: keepId })
  await inSchool(tx, schoolId).update(HandBackLater, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(HandedBack, { handedBy: otherId }, { handedBy: keepId })
  await inSchool(tx, schoolId).write(
    `UPDATE stock_remark o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM stock_remark k WHERE k.school_id = o.school_id AND k.person_id = $2 AND k.short = o.short)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(StockRemark, { personId: otherId })
  await inSchool(tx, schoolId).write(
    `UPDATE second_reading o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM second_reading k WHERE k.school_id = o.school_id AND k.copy_id = o.copy_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(SecondReading, { personId: otherId })
  await inSchool(tx, schoolId).update(SecondReading, { firstBy: otherId }, { firstBy: keepId })
  await inSchool(tx, schoolId).update(PenMarkRow, { personId: otherId }, { personId: keepId })
  for (const column of ['person_id', 'given_by'])
    await inSchool(tx, schoolId).write(
      `UPDATE given_to_keep SET ${column} = $2 WHERE school_id = $1 AND ${column} = $3`,
      keepId,
      otherId,
    )
  for (const column of ['holders', 'places', 'matches'])
    await inSchool(tx, schoolId).write(
      `UPDATE given_to_keep SET ${column} = replace(${column}::text, $3::text, $2::text)::jsonb WHERE school_id = $1 AND position($3::text IN ${column}::text) > 0`,
      keepId,
      otherId,
    )
  // Of both one note, under each other.
  for (const column of ['student_id', 'person_id']) {
    const rest = column === 'student_id' ? 'person_id' : 'student_id'
    await inSchool(tx, schoolId).write(
      `UPDATE student_note k SET text = k.text || chr(10) || o.text FROM student_note o
        WHERE k.school_id = $1 AND k.${column} = $2 AND o.school_id = $1 AND o.${column} = $3 AND o.class_id = k.class_id AND o.${rest} = k.${rest}`,
      keepId,
      otherId,
    )
    await inSchool(tx, schoolId).write(
      `UPDATE student_note o SET ${column} = $2 WHERE o.school_id = $1 AND o.${column} = $3
          AND NOT EXISTS (SELECT 1 FROM student_note k WHERE k.school_id = $1 AND k.class_id = o.class_id AND k.${rest} = o.${rest} AND k.${column} = $2)`,
      keepId,
      otherId,
    )
    await inSchool(tx, schoolId).delete(
      StudentNote,
      column === 'student_id' ? { studentId: otherId } : { personId: otherId },
    )
  }
  await inSchool(tx, schoolId).update(KeptRubricRow, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(CommentThread, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(CommentThread, { doneBy: otherId }, { doneBy: keepId })
  await inSchool(tx, schoolId).update(Comment, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(Comment, { deletedBy: otherId }, { deletedBy: keepId })
  await inSchool(tx, schoolId).write(
    `UPDATE peer_reading o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM peer_reading k WHERE k.school_id = o.school_id AND k.copy_id = o.copy_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(PeerReading, { personId: otherId })
  await inSchool(tx, schoolId).write(
    `UPDATE comment_mention o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM comment_mention k WHERE k.school_id = o.school_id AND k.comment_id = o.comment_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(CommentMention, { personId: otherId })
  await inSchool(tx, schoolId).delete(SeenComments, { personId: otherId })
  await inSchool(tx, schoolId).delete(CopyLook, { personId: otherId })
  await inSchool(tx, schoolId).update(Reminder, { personId: otherId }, { personId: keepId })
  // A token or an address was given out in the name of a record that is no more.
  await inSchool(tx, schoolId).delete(AccessToken, { personId: otherId })
  await inSchool(tx, schoolId).delete(Webhook, { personId: otherId })
  await inSchool(tx, schoolId).update(SavedCopies, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(PensAct, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(PensAct, { undoneBy: otherId }, { undoneBy: keepId })
  await inSchool(tx, schoolId).write(
    `UPDATE class SET extra_time = replace(extra_time::text, $3, $2)::jsonb WHERE school_id = $1 AND strpos(extra_time::text, $3) > 0`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).update(Recipe, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).update(WalkInUse, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).write(
    `UPDATE own_copy o SET person_id = $2 WHERE o.school_id = $1 AND o.person_id = $3
        AND NOT EXISTS (SELECT 1 FROM own_copy k WHERE k.school_id = o.school_id AND k.handout_id = o.handout_id AND k.item_id = o.item_id AND k.person_id = $2)`,
    keepId,
    otherId,
  )
  await inSchool(tx, schoolId).delete(OwnCopyMade, { personId: otherId })
  await inSchool(tx, schoolId).update(GuestMatched, { studentId: otherId }, { studentId: keepId })
  await inSchool(tx, schoolId).update(GuestMatched, { matchedBy: otherId }, { matchedBy: keepId })
  await inSchool(tx, schoolId).update(Worksheet, { ownerId: otherId }, { ownerId: keepId })
  await inSchool(tx, schoolId).update(Message, { personId: otherId }, { personId: keepId })
  await inSchool(tx, schoolId).delete(AccountLink, { personId: otherId })
  await inSchool(tx, schoolId).delete(CalendarAddress, { personId: otherId })

  const other = await emptied(tx, schoolId, otherId, keepId)
  await inSchool(tx, schoolId).write(
    `UPDATE person SET email = coalesce(email, $3), email_key = coalesce(email_key, $4), number = coalesce(number, $5), number_key = coalesce(number_key, $6),
            card_name = coalesce(card_name, $7), password_hash = coalesce(password_hash, $8) WHERE school_id = $1 AND id = $2`,
    keepId,
    other.email,
    other.email_key,
    other.number,
    other.number_key,
    other.card_name,
    other.password_hash,
  )
  return { classIds: [...new Set(classes.map(({ class_id }) => class_id))], copies }
}
