// Attributes of nodes that a block of a worksheet is, and how they are written where a block is copied as HTML.

/** A text attribute under `data-…`. */
export const textAttribute = (name: string, data: string, otherwise: string | null) => ({
  default: otherwise,
  parseHTML: (element: HTMLElement) => element.getAttribute(`data-${data}`) ?? otherwise,
  renderHTML: (attrs: Record<string, unknown>) => {
    const value = attrs[name]
    return typeof value === 'string' && value ? { [`data-${data}`]: value } : {}
  },
})

/** The id of the block. */
export const blockId = textAttribute('blockId', 'block', null)

/** An attribute that is any JSON. */
export const jsonAttribute = (name: string, otherwise: unknown = null) => ({
  default: otherwise,
  parseHTML: (element: HTMLElement) => {
    try {
      return (JSON.parse(element.getAttribute(`data-${name}`) ?? 'null') as unknown) ?? otherwise
    } catch {
      return otherwise
    }
  },
  renderHTML: (attrs: Record<string, unknown>) => ({ [`data-${name}`]: JSON.stringify(attrs[name]) }),
})
