export interface Application {
  readonly url: string
  stop(how?: 'immediate' | 'fast'): Promise<void>
}
export function makeSchool(): Promise<void>
export function startOnSchool(name: string): Promise<Application>
export function startApplication(name: string): Promise<Application>
