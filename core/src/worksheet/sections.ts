import type { Block, PlainBlock, SectionBlock, WorksheetContent } from './content.js'
import { mapBlockSpaces, spacesOfBlock } from './walk.js'

export interface Named {
  /** A UUID. */
  readonly id: string
  readonly name: string
}

/** A holder of a copy, as far as its sections go. */
export interface Member extends Named {
  /** The student whose part this is, where a guest began it; else it is their own. */
  readonly studentId?: string
}

/** Whom a copy is for, as far as its sections go. */
export interface CopyAudience {
  /** The holders of the copy: see {@link membersOf}. */
  readonly members: readonly Member[]
  /** The groups of the class, where the whole class shares one document. */
  readonly groups: readonly Named[]
}

/** One part of a repeated section: whose it is, for headings and for who may write there. */
export interface Part {
  readonly of: Named
  readonly kind: 'member' | 'group'
}

/** Which student of the class a guest is. */
export interface GuestMatch {
  readonly guestId: string
  readonly studentId: string
  /** What the guest wrote stands beside the student's own; else it is the student's own. */
  readonly beside: boolean
}

/**
 * Who has a part of their own in a copy. A guest who is a student has the part that the guest began, under the student's name,
 * and the student no other one; where it stands beside the student's own, both have theirs.
 * @param holders those who hold the copy
 * @param matches the guests of its handout who are students
 */
export function membersOf(holders: readonly Named[], matches: readonly GuestMatch[]): readonly Member[] {
  if (matches.length === 0) return holders
  const names = new Map(holders.map(({ id, name }) => [id, name]))
  const byGuest = new Map(matches.filter((one) => names.has(one.guestId)).map((one) => [one.guestId, one]))
  const hasNone = new Set([...byGuest.values()].filter(({ beside }) => !beside).map(({ studentId }) => studentId))
  return holders.flatMap((holder): Member[] => {
    if (hasNone.has(holder.id)) return []
    const match = byGuest.get(holder.id)
    const student = match && names.get(match.studentId)
    if (!match || student === undefined) return [holder]
    const name = match.beside ? `${student}, as ${holder.name}` : student
    return [{ id: holder.id, name, studentId: match.studentId }]
  })
}

/**
 * The address of an answer in a part of a repeated section: the space's id, and whose part it is.
 * @returns up to 64 characters that an id may have
 */
export const partAddress = (spaceId: string, { of }: Part): string => partAddressOf(spaceId, of.id)

/** The address of a space in the part of the person or group of this id. */
export const partAddressOf = (spaceId: string, id: string): string => `${spaceId}_${id.replaceAll('-', '')}`

/** The space of the worksheet that an address is of, and whose part it is, as the id without its dashes; null: nobody's. */
export function baseAddress(address: string): { readonly base: string; readonly of: string | null } {
  const part = /^(.+)_([0-9a-f]{32})$/.exec(address)
  return part ? { base: part[1]!, of: part[2]! } : { base: address, of: null }
}

/** Whether an address is that of a space in somebody's part of a repeated section. */
export const isPartOf = (address: string, spaceId: string): boolean =>
  address.startsWith(`${spaceId}_`) && /^[0-9a-f]{32}$/.test(address.slice(spaceId.length + 1))

/**
 * The worksheet as one copy shows it, every section laid open.
 *
 * - a section for everyone: its blocks
 * - for each member, for each group: its blocks once for each, under their name, every answer space with an address of
 *   its own ({@link partAddress}); with one member and no title it needs no name; with nobody to repeat it for, it stands
 *   once, as for everyone
 * - for named people: its blocks if one of the members is among them, under their names where others see it too; else nothing
 */
export function expandSections(content: WorksheetContent, audience: CopyAudience): WorksheetContent {
  if (!content.blocks.some(({ kind }) => kind === 'section')) return content
  return {
    ...content,
    blocks: content.blocks.flatMap((block) => (block.kind === 'section' ? expandSection(block, audience) : [block])),
  }
}

/** The answer spaces in sections reserved for named people, each with the ids of these people. */
export const reservedSpaces = ({ blocks }: Pick<WorksheetContent, 'blocks'>): Map<string, readonly string[]> =>
  new Map(
    blocks.flatMap((block) => {
      if (block.kind !== 'section' || block.whose.is !== 'named') return []
      const people = block.whose.people.map(({ id }) => id)
      return spacesOfBlock(block).map((space): [string, readonly string[]] => [space.id, people])
    }),
  )

function expandSection(section: SectionBlock, { members, groups }: CopyAudience): Block[] {
  const { whose } = section
  switch (whose.is) {
    case 'named': {
      const named = members.filter(({ id, studentId = id }) => whose.people.some((person) => person.id === studentId))
      if (named.length === 0) return []
      const names = named.length < members.length ? named.map(({ name }) => name).join(', ') : ''
      return [...heading([section.title, names].filter(Boolean).join(' · '), section.id), ...section.blocks]
    }
    case 'each member':
      if (members.length === 1) return inPart(section, { of: members[0]!, kind: 'member' }, false)
      return repeat(section, members, 'member')
    case 'each group':
      return repeat(section, groups, 'group')
    case 'everyone':
      return [...heading(section.title, section.id), ...section.blocks]
  }
}

function repeat(section: SectionBlock, whom: readonly Named[], kind: Part['kind']): Block[] {
  if (whom.length === 0) return [...heading(section.title, section.id), ...section.blocks]
  return whom.flatMap((of) => inPart(section, { of, kind }, true))
}

function inPart(section: SectionBlock, part: Part, isNamed: boolean): Block[] {
  const mark = part.of.id.replaceAll('-', '')
  const title = isNamed ? [section.title, part.of.name].filter(Boolean).join(' · ') : section.title
  return [
    ...heading(title, `${section.id}_${mark}`),
    ...section.blocks.map((block): PlainBlock => {
      const addressed = mapBlockSpaces(block, (space) => ({ ...space, id: partAddress(space.id, part) }))
      // An answer space that is a block has its address as its id already.
      return addressed.id === block.id ? { ...addressed, id: `${block.id}_${mark}` } : addressed
    }),
  ]
}

function heading(title: string, id: string): Block[] {
  if (!title) return []
  return [
    { id, kind: 'text', rich: { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: title }] } },
  ]
}
