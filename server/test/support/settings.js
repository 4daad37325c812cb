const SECRET = 'a secret of the tests, long enough to pass'

/** The settings of an application of the tests. */
export const settingsFor = (databaseUrl, demo = false) => ({
  host: '127.0.0.1',
  port: 0,
  databaseUrl,
  sessionSecret: SECRET,
  demo,
  trustedProxies: 'loopback',
  webRoot: null,
  poolSize: 10,
  logs: 'text',
  // Receivers of the tests are on this machine.
  webhooksAnywhere: true,
  mail: {
    smtpUrl: 'stand-in',
    from: 'gavrin@fennickquay.example',
    publicUrl: 'https://gavrin.fennickquay.example',
  },
})
