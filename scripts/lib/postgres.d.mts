export interface Cluster {
  readonly started: boolean
  readonly port: number
  url(database: string): string
  start(): Promise<boolean>
  stop(mode?: 'fast' | 'immediate'): void
  psql(database: string, sql: string): { ok: boolean; text: string }
  createDatabase(database: string): void
}
export function freePort(): Promise<number>
export function openCluster(
  name: string,
  options?: { fresh?: boolean; settings?: Record<string, string | number> },
): Promise<Cluster>
