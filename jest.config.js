const transform = (decorators) => ({
  '^.+\\.tsx?$': [
    '@swc/jest',
    {
      jsc: {
        parser: { syntax: 'typescript', tsx: true, decorators },
        transform: { react: { runtime: 'automatic' }, legacyDecorator: decorators, decoratorMetadata: decorators },
        target: 'es2022',
      },
      module: { type: 'es6' },
    },
  ],
})

const common = {
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^(\\.{1,2}/(?!.*dist/).*)\\.js$': '$1' },
  transform: transform(false),
}

/** The core and the web are tested from their sources; the server as it is shipped, from server/dist. */
export default {
  // Machines are shared: what takes a second may take twenty.
  testTimeout: 300_000,
  testSequencer: '<rootDir>/scripts/longestFirst.mjs',
  projects: [
    { ...common, displayName: 'core', roots: ['<rootDir>/core/src'], testEnvironment: 'node' },
    {
      ...common,
      displayName: 'web',
      moduleNameMapper: { ...common.moduleNameMapper, '\\.css$': '<rootDir>/web/test/noStyle.js' },
      roots: ['<rootDir>/web/test'],
      testEnvironment: '<rootDir>/web/test/environment.js',
      setupFilesAfterEnv: ['<rootDir>/web/test/support/patience.ts'],
      testEnvironmentOptions: { customExportConditions: ['@gavrin/source', 'browser'] },
    },
    {
      ...common,
      displayName: 'server',
      roots: ['<rootDir>/server/test'],
      testEnvironment: 'node',
      moduleNameMapper: { '^(\\.{1,2}/support/.*)\\.js$': '$1', '^(\\./(?!.*dist/)[A-Za-z]*)\\.js$': '$1' },
      globalSetup: '<rootDir>/server/test/support/cluster.js',
      globalTeardown: '<rootDir>/server/test/support/clusterDown.js',
    },
  ],
}
