// The keys of slots: stable, so that planning again finds the copies there are. A slot is of an item, and of a person, a group,
// the class, or the original of a worksheet.

export const slotOf = (itemId: string, personId: string): string => `${itemId}:each:${personId}`
/** The copy that somebody made of something to read. */
export const slotOwn = (itemId: string, personId: string): string => `${itemId}:own:${personId}`
export const slotOfGroup = (itemId: string, groupId: string): string => `${itemId}:group:${groupId}`
export const slotTogether = (itemId: string): string => `${itemId}:together`
export const slotToRead = (itemId: string, worksheetId: string | null): string =>
  worksheetId === null ? `${itemId}:read` : `${itemId}:read:${worksheetId}`

/** A slot in one class alone: each class of a handout has a slot of this key. */
export const slotInClass = (slotKey: string, classId: string): string => `${slotKey}@${classId}`
