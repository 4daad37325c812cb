/** What is injected by name. */
export const SETTINGS = Symbol('settings')
export const SESSIONS = Symbol('sessions')
/** In demo mode a function that finds whom the demo can be tried as; else null. */
export const DEMO_PEOPLE = Symbol('demo people')
export type FindDemoPeople = (() => Promise<object>) | null
