const SIGNS: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }

/** Text for HTML or XML, in content and in quoted attributes; signs that XML cannot hold are left out. */
export const escapeMarkup = (text: string): string =>
  // oxlint-disable-next-line no-control-regex -- XML 1.0 has no place for these
  text.replace(/[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g, '').replace(/[&<>"']/g, (sign) => SIGNS[sign]!)
