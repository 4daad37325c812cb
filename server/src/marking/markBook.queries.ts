import { type BookCopies, type CopyState, type Rounds, stateForStaff } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { IS_MARKED, WITH_MARK } from '../kept/kept.queries.js'
import { ALL_HOLDERS } from '../kept/mark.entity.js'

/** A handout as a column of a mark book. Times in milliseconds since 1970. */
export interface HandoutColumn {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly unit: string | null
  readonly givenAt: number | null
  readonly dueAt: number | null
  /** Which mark counts where copies were opened again. */
  readonly rounds: Rounds
}

/** Between the facts of a copy, and between copies: no text that was typed holds them. */
const [FACT, COPY] = ['\u001f', '\u001e']

/**
 * The copies of handouts with their marks: what is one's alone before what is the group's. Raw: of many
 * rows, by four tables, each gone through once; they come as text, for reading a row of columns each costs several times as much.
 * @param students the place of each among those that are shown; copies of others are left out
 */
export async function copiesOfBook(
  database: Database,
  schoolId: string,
  handoutIds: readonly string[],
  students: ReadonlyMap<string, number>,
): Promise<BookCopies[]> {
  const school = inSchool(database, schoolId)
  const [handouts, alone] = await Promise.all([
    school.rows<{ handoutId: string; copies: string }>(
      `SELECT c.handout_id AS "handoutId", string_agg(concat_ws('${FACT}', o.person_id, c.id, c.state, coalesce(${ms('c.due_at')}::text, ''), coalesce(${ms('c.submitted_at')}::text, ''),
              coalesce(mark.total::text, ''), coalesce(mark.most::text, ''), coalesce(mark.step, ''), coalesce(mark.excused, false)::int, ${IS_MARKED}::int,
              c.answered, e.answer_spaces + e.group_spaces * jsonb_array_length(c.places), e.member_spaces), '${COPY}') AS copies
         FROM copy c JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
         JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id AND o.permission <> 'none'
         ${WITH_MARK}
        WHERE c.school_id = $1 AND c.handout_id = ANY($2::uuid[]) AND NOT c.set_aside AND c.way <> 'to read' GROUP BY c.handout_id`,
      handoutIds,
    ),
    school.rows<Alone>(
      `SELECT m.copy_id AS "copyId", m.person_id AS "personId", m.total, m.most, m.step, m.excused FROM copy c
         JOIN mark m ON m.school_id = c.school_id AND m.copy_id = c.id AND m.person_id <> '${ALL_HOLDERS}' WHERE c.school_id = $1 AND c.handout_id = ANY($2::uuid[])`,
      handoutIds,
    ),
  ])
  const own = new Map(alone.map((mark) => [`${mark.copyId} ${mark.personId}`, mark]))
  return handouts.map(({ handoutId, copies }) => readCopies(handoutId, copies, own, students))
}

/** What of a mark is one holder's alone. */
interface Alone {
  readonly copyId: string
  readonly personId: string
  readonly total: number | null
  readonly most: number | null
  readonly step: string | null
  readonly excused: boolean
}

function readCopies(
  handoutId: string,
  text: string,
  own: ReadonlyMap<string, Alone>,
  students: ReadonlyMap<string, number>,
): BookCopies {
  const lines = text.split(COPY).map((line) => line.split(FACT))
  const holders = new Map<string, number>()
  for (const [, copyId] of lines) holders.set(copyId!, (holders.get(copyId!) ?? 0) + 1)
  const rows = {
    ...{ students: [] as number[], states: [] as CopyState[], dueAt: [] as (number | null)[] },
    ...{ submittedAt: [] as (number | null)[], total: [] as (number | null)[], most: [] as (number | null)[] },
    ...{ step: [] as (string | null)[], excused: [] as number[], done: [] as number[] },
    ...{ holders: [] as number[], share: [] as number[] },
  }
  const number = (fact: string | undefined) => (fact ? Number(fact) : null)
  for (const facts of lines) {
    const [personId, copyId, state, dueAt, submittedAt, total, most, step, excused, done, answered, spaces, each] =
      facts
    const student = students.get(personId!)
    if (student === undefined) continue
    const at = rows.students.length
    const alone = own.get(`${copyId} ${personId}`)
    const count = holders.get(copyId!)!
    rows.students.push(student)
    rows.states.push(stateForStaff(state as CopyState, done === '1'))
    rows.dueAt.push(number(dueAt))
    rows.submittedAt.push(number(submittedAt))
    rows.total.push(alone ? alone.total : number(total))
    rows.most.push(alone?.most ?? number(most))
    rows.step.push(alone?.step ?? (step || null))
    if (alone?.excused || excused === '1') rows.excused.push(at)
    if (done === '1') rows.done.push(at)
    rows.holders.push(count)
    rows.share.push(
      Math.round(Math.min(1, Number(answered) / Math.max(1, Number(spaces) + Number(each) * count)) * 100) / 100,
    )
  }
  return { handoutId, ...rows }
}

/**
 * Marks of earlier rounds of copies that were opened again: of each round what was handed back last. The round that the mark as it stands
 * is of is not among them. Raw: sets of pairs, by four tables.
 */
export function earlierRounds(
  database: Database,
  schoolId: string,
  handoutIds: readonly string[],
): Promise<{ handoutId: string; personId: string; total: number; most: number }[]> {
  return inSchool(database, schoolId).rows(
    `WITH opened AS (SELECT c.id, c.handout_id, j.at, max(j.at) OVER (PARTITION BY c.id) AS last FROM copy c
                       JOIN copy_journal j ON j.school_id = c.school_id AND j.copy_id = c.id AND j.kind = 'opened again'
                      WHERE c.school_id = $1 AND c.handout_id = ANY($2::uuid[]) AND NOT c.set_aside),
       round AS (SELECT DISTINCT ON (o.id, b.person_id, o.at) o.handout_id, o.id, o.at, o.last, b.person_id, b.mark FROM opened o
                   JOIN handed_back b ON b.school_id = $1 AND b.copy_id = o.id AND b.withdrawn_at IS NULL AND b.at <= o.at
                    AND NOT EXISTS (SELECT 1 FROM opened p WHERE p.id = o.id AND p.at < o.at AND p.at >= b.at)
                  ORDER BY o.id, b.person_id, o.at, b.at DESC)
     SELECT r.handout_id AS "handoutId", r.person_id AS "personId", (r.mark ->> 'total')::int AS total, (r.mark ->> 'most')::int AS most FROM round r
       LEFT JOIN mark m ON m.school_id = $1 AND m.copy_id = r.id AND m.person_id = '${ALL_HOLDERS}'
      WHERE r.mark ->> 'total' IS NOT NULL AND r.mark ->> 'most' IS NOT NULL AND (r.at < r.last OR m.done_at > r.last) ORDER BY r.at`,
    handoutIds,
  )
}

/** The handouts of a class whose marks were reckoned otherwise than their slips say now. Raw: a set of pairs. */
export function handoutsToReckon(
  database: Database,
  schoolId: string,
  ways: readonly { readonly handoutId: string; readonly fingerprint: string }[],
): Promise<{ handoutId: string }[]> {
  return inSchool(database, schoolId).rows<{ handoutId: string }>(
    `SELECT DISTINCT c.handout_id AS "handoutId" FROM unnest($2::uuid[], $3::text[]) AS w(handout_id, way) JOIN copy c ON c.school_id = $1 AND c.handout_id = w.handout_id
       JOIN mark m ON m.school_id = c.school_id AND m.copy_id = c.id
      WHERE m.counted_by <> w.way || ' ' || c.edition || ' ' || greatest(0, ceil(extract(epoch FROM c.submitted_at - c.due_at) / 86400)) AND c.submitted_at IS NOT NULL AND c.due_at IS NOT NULL
         OR m.counted_by <> w.way || ' ' || c.edition || ' 0' AND (c.submitted_at IS NULL OR c.due_at IS NULL)`,
    ways.map(({ handoutId }) => handoutId),
    ways.map(({ fingerprint }) => fingerprint),
  )
}

/** The marks on paper of a class. Raw: two tables. */
export function paperMarksOf(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<{ columnId: string; personId: string; total: number | null; excused: boolean }[]> {
  return inSchool(database, schoolId).rows(
    `SELECT m.column_id AS "columnId", m.person_id AS "personId", m.total, m.excused FROM paper_column k JOIN paper_mark m ON m.school_id = k.school_id AND m.column_id = k.id
      WHERE k.school_id = $1 AND k.class_id = $2`,
    classId,
  )
}
