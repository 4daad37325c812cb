export interface Application {
  readonly url: string
  stop(): Promise<void>
}
export function startApplication(name: string): Promise<Application>
