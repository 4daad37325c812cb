/** What is injected by name. */
export const SETTINGS = Symbol('settings')
export const SESSIONS = Symbol('sessions')
