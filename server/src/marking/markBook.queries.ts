import { type BookCopies, type Rounds, gathered } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { IS_MARKED, STAFF_STATE, WITH_MARK } from '../kept/kept.queries.js'
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

/** The copies of a handout as they are sent, and whether a mark of them was reckoned otherwise than its slip says now. */
export interface BookCopiesRead extends BookCopies {
  readonly isStale: boolean
}

/** From how many handouts on they are read by two connections at once. */
const BY_TWO = 12

/**
 * The copies of handouts with their marks: what is one's alone before what is the group's. Raw: of many rows, by five tables, each
 * gone through once; they are written as they are sent, for reading a row of columns each costs several times as much.
 * @param ways the handouts, with how they are marked now
 * @param students those that are shown; copies of others are left out
 */
export async function copiesOfBook(
  database: Database,
  schoolId: string,
  ways: readonly { readonly handoutId: string; readonly fingerprint: string }[],
  students: readonly { readonly personId: string }[],
): Promise<BookCopiesRead[]> {
  const half = ways.length < BY_TWO ? ways.length : Math.ceil(ways.length / 2)
  const read = async (areSeveral: boolean, from: number, to: number) =>
    from === to
      ? []
      : inSchool(database, schoolId).rows<BookCopiesRead>(
          bookCopiesSql(areSeveral),
          ways.slice(from, to).map(({ handoutId }) => handoutId),
          ways.slice(from, to).map(({ fingerprint }) => fingerprint),
          students.map(({ personId }) => personId),
        )
  const parts = await Promise.all([read(false, 0, half), read(false, half, ways.length), read(true, 0, ways.length)])
  return [...gathered(parts.flat(), ({ handoutId }) => handoutId)].map(([handoutId, of]) => ({
    handoutId,
    isStale: of.some(({ isStale }) => isStale),
    lines: of.map(({ lines }) => lines).join('\n'),
  }))
}

/** Whole milliseconds, as text: the exact decimals of a time cost more than all else here. */
const wholeMs = (column: string) => `coalesce(round(date_part('epoch', ${column}) * 1000)::text, '')`

/**
 * See {@link BookCopies}. A copy of one each has one holder, with one mark, where no guests came; of the others it is looked up how
 * many hold each, and what is the mark of one alone.
 */
const bookCopiesSql = (areSeveral: boolean) => `
  SELECT c.handout_id AS "handoutId", coalesce(bool_or(${areSeveral ? 'own.counted_by <> now.by OR ' : ''}mark.counted_by <> now.by), false) AS "isStale",
         string_agg(concat_ws('|', s.place - 1, ${STAFF_STATE}, ${wholeMs('c.due_at')}, ${wholeMs('c.submitted_at')},
           coalesce(m.total::text, ''), coalesce(m.most::text, ''), m.excused::int + CASE WHEN ${IS_MARKED} THEN 2 ELSE 0 END, m.holders,
           round(100 * least(1, c.answered::float8 / greatest(1, e.answer_spaces + e.group_spaces * jsonb_array_length(c.places) + e.member_spaces * m.holders))),
           translate(coalesce(m.step, ''), E'\\n', ' ')), E'\\n') AS lines
    FROM copy c
    JOIN unnest($2::uuid[], $3::text[]) AS way(handout_id, fingerprint) ON way.handout_id = c.handout_id
    JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
    JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id AND o.permission <> 'none'
    JOIN unnest($4::uuid[]) WITH ORDINALITY AS s(person_id, place) ON s.person_id = o.person_id
    ${WITH_MARK}
    ${
      areSeveral
        ? `LEFT JOIN mark own ON own.school_id = c.school_id AND own.copy_id = c.id AND own.person_id = o.person_id
    CROSS JOIN LATERAL (SELECT CASE WHEN own.copy_id IS NULL THEN mark.total ELSE own.total END AS total, coalesce(own.most, mark.most) AS most, coalesce(own.step, mark.step) AS step,
      coalesce(own.excused, false) OR coalesce(mark.excused, false) AS excused,
      (SELECT count(*) FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id AND n.permission <> 'none') AS holders) AS m`
        : 'CROSS JOIN LATERAL (SELECT mark.total, mark.most, mark.step, coalesce(mark.excused, false) AS excused, 1 AS holders) AS m'
    }
    CROSS JOIN LATERAL (SELECT way.fingerprint || ' ' || c.edition || ' ' ||
      CASE WHEN c.submitted_at > c.due_at THEN ceil(extract(epoch FROM c.submitted_at - c.due_at) / 86400)::int ELSE 0 END AS by) AS now
   WHERE c.school_id = $1 AND NOT c.set_aside AND c.way <> 'to read'
     AND ${areSeveral ? '' : 'NOT '}(c.way <> 'one each' OR c.handout_id IN (SELECT handout_id FROM guest_match WHERE school_id = $1)) GROUP BY c.handout_id`

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
