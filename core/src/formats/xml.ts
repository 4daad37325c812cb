// Signs that have no place in XML 1.0, not even escaped.
const FORBIDDEN = /[\p{Cc}\uFFFE\uFFFF]/gu

/** A text as it stands in XML, between tags and in attributes. */
export function escapeXml(text: string): string {
  return text
    .replace(FORBIDDEN, (sign) => (sign === '\t' || sign === '\n' ? sign : ''))
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
}
