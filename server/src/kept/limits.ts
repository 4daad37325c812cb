/** What the document of an answer may hold and cost, and what is spent on opening it. */
export const ANSWER_LIMITS = {
  /** Bytes, structs and cost (see `updateCost`) of an update that is taken at once; dearer ones are tried on a clone first. */
  quickBytes: 64_000,
  quickStructs: 300,
  quickSteps: 2_000,
  /** Bytes, structs and cost of an update beyond which it is refused, whoever sends it. */
  slowBytes: 1_000_000,
  slowStructs: 10_000,
  slowSteps: 30_000,
  /** How long an update may take on the clone, and how much of that the server's own thread may then spend, in milliseconds. */
  slowDeadline: 3_000,
  slowShare: 250,
  /** Bytes of the updates in one answer space, and items of its document, beyond which it is full. */
  spaceBytes: 4_000_000,
  spaceItems: 30_000,
  /** From this share of either on the writer is told that it is getting full. */
  fillingShare: 0.8,
  /** What is kept of one person's late writing in one answer space, in bytes of its updates. */
  lateBytes: 1_000_000,
  /** What of a copy is applied at once when it is opened (see `updateCost`); beyond it a worker does it first. */
  loadSteps: 5_000,
  loadBytes: 64_000,
  /** What a worker may spend on one answer (about 0.4 s), and structs it reads in one update. */
  loadWorkerSteps: 2_000_000,
  loadStructs: 200_000,
  /** How long a worker may take to open an answer, and how long applying its folded state may take, in milliseconds. */
  loadDeadline: 8_000,
  loadShare: 400,
} as const
