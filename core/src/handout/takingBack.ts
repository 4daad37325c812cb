import { slotInClass } from './slots.js'
import type { Statement } from './statement.js'

/**
 * The statement with single copies of one class taken back, or given again; all else of it stays.
 * @param slots the slots of the copies, as the class has them
 * @param back they are given again
 */
export function withTakenBack(
  statement: Statement,
  slots: ReadonlySet<string>,
  classId: string,
  back: boolean,
): Statement {
  // The statement is that of all its classes; what is taken back is in this one.
  const entries = [...slots].map((slot) => slotInClass(slot, classId))
  return {
    ...statement,
    items: statement.items.map((item) => {
      const others = item.without.filter((slot) => !slots.has(slot) && !entries.includes(slot))
      const taken = entries.filter((slot) => slot.startsWith(`${item.id}:`))
      return { ...item, without: back ? others : [...others, ...taken] }
    }),
  }
}
