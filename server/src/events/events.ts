import type { ClassPart, KeptThread, Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'

interface InSchool {
  readonly schoolId: string
}

/** What can have happened, by its name. */
export interface Happenings {
  /** A part of a class: whoever has it open reads it again; of its marks a column of the mark book, where it is said. */
  'class changed': InSchool & { readonly classId: string; readonly part: ClassPart; readonly columnId?: string }
  /** The members of a class, or what they are in it, and with them who may see what of its copies. */
  'members changed': InSchool & { readonly classId: string }
  /** Copies of a handout were made or changed; into those that are named answers were carried. */
  'handout changed': InSchool & { readonly handoutId: string; readonly written?: readonly string[] }
  /** Other answers are right in a handout now: in these copies it makes a difference. Whoever writes is told nothing. */
  'key changed': InSchool & { readonly handoutId: string; readonly copyIds: readonly string[] }
  /** Pens of copies of a handout were stopped, or let go on. */
  'pens moved': InSchool & { readonly handoutId: string; readonly copyIds: readonly string[] }
  /** Marks of copies, by their teachers: whoever has the board open sees it, and nobody else. */
  'marks changed': InSchool & { readonly handoutId: string; readonly copyIds: readonly string[] }
  /** What is said in a copy: these threads, as they are now. */
  'comments changed': InSchool & {
    readonly handoutId: string
    readonly copyId: string
    readonly threads: readonly KeptThread[]
  }
  /** Documents with a copy: put there, taken out, or said to be the answer. */
  'documents changed': InSchool & { readonly handoutId: string; readonly copyId: string }
  /** What came late beside the answers of a copy was decided on. */
  'late writing decided': InSchool & { readonly copyId: string }
  /** The draft of a worksheet was kept, by somebody, in this version. */
  'worksheet kept': { readonly by: Viewer; readonly worksheetId: string; readonly version: number }
  /** The account of somebody has ended or changed hands, and with it their sessions, but for one. */
  'account ended': InSchool & { readonly personId: string; readonly exceptSession?: string | undefined }
  'session ended': { readonly sessionId: string }
}

type Listener<Name extends keyof Happenings> = (what: Happenings[Name]) => unknown

/**
 * Who tells whom. A module tells what has happened once it is committed, and knows nobody who listens; those above it (the
 * live connections, hand-outs by themselves) listen. Within this process; the place where several would be joined.
 */
@Injectable()
export class Events {
  private readonly listeners = new Map<keyof Happenings, Listener<never>[]>()

  on<Name extends keyof Happenings>(name: Name, listener: Listener<Name>): void {
    this.listeners.set(name, [...(this.listeners.get(name) ?? []), listener])
  }

  /**
   * Tells all who listen, and waits for them: who has lost access has lost it in their open windows too when this resolves.
   * Each is told, whatever becomes of the others; the first failure is thrown after.
   */
  async tell<Name extends keyof Happenings>(name: Name, what: Happenings[Name]): Promise<void> {
    const told = (this.listeners.get(name) ?? []).map(async (listener) => await (listener as Listener<Name>)(what))
    const failed = (await Promise.allSettled(told)).find((one) => one.status === 'rejected')
    if (failed) throw failed.reason
  }
}
