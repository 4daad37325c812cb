const IDS = /\/[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}/g

/** The kind of place an address is: another one is said to be coming at once, before what it is made of is loaded. */
export const kindOfPlace = (pathname: string): string => pathname.replace(IDS, '/:id')
