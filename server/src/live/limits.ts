/** Limits of live connections. Beyond a rate a person is slowed, never cut: their messages wait in their sockets. */
export const LIMITS = {
  /** Bytes of one frame; beyond it the socket is closed. */
  frameBytes: 1_500_000,
  /** Client ids that one person may register in one space over one connection. */
  writers: 100,
  channels: 60,
  watches: 20,
  connectionsOfPerson: 40,
  /** Messages of one person a second, over all connections, and in one burst. */
  messageRate: 120,
  messageBurst: 600,
  /** Milliseconds of the server's time for one person a second, and in one burst. */
  workRate: 60,
  workBurst: 400,
  /** Updates waiting for the database, beyond which all writers are slowed. */
  backlog: 5_000,
} as const
