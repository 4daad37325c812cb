/** The longest address SMTP can carry (RFC 5321, 4.5.3.1.3, less the angle brackets). */
export const EMAIL_LIMIT = 254

// One local part, one "@", a host of at least two labels. Deliberately simple: the proof of an address is a message.
const ADDRESS =
  /^[\p{L}\p{N}.!#$%&'*+/=?^_`{|}~-]{1,64}@(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}]{2,}$/u

/** Whether `text` has the shape of an e-mail address. */
export function isEmail(text: string): boolean {
  return text.length <= EMAIL_LIMIT && ADDRESS.test(text) && !text.includes('..')
}

/** The form under which two spellings of an address are one person's. */
export function emailKey(email: string): string {
  return email.trim().normalize('NFC').toLowerCase()
}
