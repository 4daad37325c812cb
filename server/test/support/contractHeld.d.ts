import type { Observable } from 'rxjs'

/** Holds every answer of an application against the contract. */
export class ContractHeld {
  intercept(
    context: { getHandler(): object; getClass(): object },
    next: { handle(): Observable<unknown> },
  ): Observable<unknown>
}
