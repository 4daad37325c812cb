/**
 * How many rounds a property, or a test that kills something at random, is tried: the few of every run, or the many of
 * `npm test -- long`.
 */
export const runs = (usual, long) => (process.env.GAVRIN_LONG ? long : usual)
