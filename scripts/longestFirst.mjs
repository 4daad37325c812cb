import { statSync } from 'node:fs'

/** Takes half the time of all others together: begun late, it is waited for. */
const LONG = /faults\.test\.ts$/

/** The order in which Jest takes test files: the long one, then the large ones. */
export default class LongestFirst {
  sort(tests) {
    const weight = ({ path }) => (LONG.test(path) ? Infinity : statSync(path).size)
    return [...tests].sort((a, b) => weight(b) - weight(a))
  }
  allFailedTests(tests) {
    return tests
  }
  shard(tests) {
    return tests
  }
  cacheResults() {}
}
