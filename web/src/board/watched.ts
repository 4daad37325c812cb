/** So many copies can be read beside each other. */
export const WATCHED = 4
