// Made by scripts/contract.mjs out of what the controllers of the server give. Not to be written in.

import type {
  AccessGround,
  AnswerPart,
  Audience,
  Block,
  BoardRow,
  BoardSpace,
  BookCopies,
  BundleClass,
  ClassRole,
  CopyMark,
  DecidedPart,
  DocumentKind,
  Existing,
  ExtraTime,
  Group,
  GroupPair,
  GuestPermission,
  LikePair,
  MarkBack,
  MarkBookRules,
  MarkParts,
  MarkedSpace,
  MarkingWay,
  Matching,
  NamePattern,
  NotReminded,
  NoteText,
  OpenTimes,
  OverviewHandout,
  PageSize,
  Peers,
  PensChange,
  PensUndo,
  PhotoWork,
  PlanGroupSet,
  PlanGuest,
  PlanMember,
  PlanWorksheet,
  Ref,
  RosterColumn,
  RubricRow,
  SchoolRole,
  SingleCopy,
  StaffRole,
  Statement,
  ThreadKind,
  ThreadSeen,
  UndoProof,
  WorksheetContent,
} from '@gavrin/core'

/** A line of the mailroom. */
export type MailroomLine = {
  readonly id: string
  readonly kind: MessageKind
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly address: string
  /** Withdrawn: a cover note that was not to go out any more when its time came. */
  readonly state: 'failed' | 'sent' | 'waiting' | 'withdrawn'
  readonly attempts: number
  readonly createdAt: number
  readonly sentAt: null | number
  /** When it goes out, if it waits for its handout to open. */
  readonly opensAt: null | number
  readonly problem: null | string
  readonly handout: null | { readonly id: string; readonly number: number; readonly title: string }
}

export type MessageKind = 'cover note' | 'invitation' | 'new password' | 'reminder'

export type SomePeopleDto = {
  /** Left out: everybody it can be for. */
  readonly personIds?: readonly string[]
}

export type SomeMessagesDto = {
  /** Left out: all that failed. */
  readonly messageIds?: readonly string[]
}

/** A mail that the stand-in for a mail server took. */
export type KeptMail = {
  readonly id: string
  /** Milliseconds since 1970. */
  readonly at: number
  /** Addresses, with commas. */
  readonly recipient: string
  readonly subject: string
  readonly body: string
}

export type ForgottenDto = { readonly email: string }

export type LinkDto = { readonly token: string }

/** Whose password a link sets. */
export type LinkHolder = {
  readonly first: string
  readonly last: string
  readonly email: null | string
  readonly school: string
  readonly purpose: string
}

export type PasswordByLinkDto = { readonly password: string; readonly token: string }

export type ChangePasswordDto = { readonly current: string; readonly password: string }

/** Somebody who is signed in, with what their pages need to know of the school. */
export type PersonSignedIn = {
  readonly id: string
  readonly role: SchoolRole
  readonly first: string
  readonly last: string
  readonly email: null | string
  /** The name of the school. */
  readonly school: string
  readonly timeZone: string
  readonly locale: string
}

/** Who can sign in to the demo, all with one password. */
export type DemoPeople = { readonly password: string; readonly people: readonly DemoPerson[] }

/** Somebody the demo can be tried as. */
export type DemoPerson = {
  readonly email: string
  readonly first: string
  readonly last: string
  readonly role: SchoolRole
  /** The classes they are in. */
  readonly classes: string
}

export type SignInDto = { readonly email: string; readonly password: string }

/** What stands at the head of a board. Times in milliseconds since 1970. */
export type BoardHead = {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly classId: string
  readonly class: string
  readonly ink: string
  readonly kind: 'handout' | 'shelf'
  readonly setId: null | string
  readonly opensAt: null | number
  readonly dueAt: null | number
  readonly handedOutAt: null | number
}

/** A student of the class who holds no copy of a handout. */
export type LeftOut = { readonly personId: string; readonly first: string; readonly last: string }

/** How much somebody has written in a copy. */
export type WriterIn = {
  readonly copyId: string
  readonly personId: string
  /** How many changes are theirs, and of how many of all. */
  readonly changes: number
  readonly of: number
  /** Milliseconds since 1970. */
  readonly lastAt: number
}

/** One answer to a question, as it stands. */
export type AnswerGiven = {
  readonly copyId: string
  /** Whose part it is in, where its section is repeated: a member's or a group's id, without dashes; null: it is there once. */
  readonly of: null | string
  /** In words. */
  readonly text: string
  /** Whether it is right by its key; null: it cannot be checked, or is not for who asks to know. */
  readonly right: boolean | null
}

export type AcceptedDto = {
  /** All that are to be accepted beside the key. */
  readonly texts: readonly string[]
}

export type AcceptDto = {
  /** As it stood on the page. */
  readonly was: readonly string[]
  /** All that are to be accepted beside the key. */
  readonly texts: readonly string[]
}

export type BoardOutDto = {
  /** The answer grid of this worksheet; left out: the board. */
  readonly worksheetId?: string
  /** Left out: all copies. */
  readonly copyIds?: readonly string[]
}

/** What differs between what was handed out and what exists, in one line, and how many it concerns. */
export type DifferencesNow = { readonly count: number; readonly sentence: string }

export type OverviewOutDto = {
  /** The handouts of the unit of this name; left out: all. */
  readonly unit?: string
}

/** A worksheet in a library. Times in milliseconds since 1970. */
export type WorksheetListed = {
  readonly id: string
  readonly title: string
  readonly version: number
  readonly keptVersion: null | number
  readonly updatedAt: number
  readonly isOwner: boolean
  readonly owner: string
  readonly may: 'edit' | 'view'
  readonly folderId: null | string
  readonly archived: boolean
  readonly shared: boolean
  readonly pinned: boolean
  readonly openedAt: null | number
  /** The newest edition, if one was kept. */
  readonly edition: null | number
  readonly answerSpaces: number
  readonly copies: number
}

export type PinWorksheetsDto = { readonly ids: readonly string[]; readonly pinned: boolean }

export type MoveWorksheetsDto = { readonly ids: readonly string[]; readonly folderId: null | string }

export type ArchiveWorksheetsDto = { readonly ids: readonly string[]; readonly archived: boolean }

export type RenameWorksheetsDto = { readonly titles: readonly TitleDto[] }

export type TitleDto = { readonly id: string; readonly title: string }

/** A colleague, and what they may do with a worksheet. */
export type Colleague = { readonly personId: string; readonly name: string; readonly may: 'edit' | 'view' | null }

export type SharesDto = { readonly schoolMay: 'edit' | 'none' | 'view'; readonly people: readonly ShareDto[] }

export type ShareDto = { readonly personId: string; readonly may: 'edit' | 'view' }

export type FolderDto = { readonly name: string; readonly parentId?: null | string }

export type CreateWorksheetDto = { readonly title: string; readonly folderId?: null | string }

/** An edition in the list of its worksheet. */
export type EditionListed = {
  readonly number: number
  readonly title: string
  readonly answerSpaces: number
  /** Milliseconds since 1970. */
  readonly keptAt: number
  readonly copies: number
}

/** A handout that gave a worksheet, by edition. */
export type HandedOut = {
  readonly handoutId: string
  readonly classId: string
  readonly number: number
  readonly title: string
  readonly class: string
  readonly subject: string
  readonly edition: number
  readonly copies: number
  readonly submitted: number
  /** Milliseconds since 1970. */
  readonly handedOutAt: null | number
}

export type KeepDraftDto = { readonly title: string; readonly content: object; readonly version: number }

export type KeepEditionDto = { readonly version: number }

/** A medium without its bytes. */
export type Medium = { readonly id: string; readonly type: string; readonly width: number; readonly height: number }

export type WriteOutDto = {
  /** Null: the draft as it stands. */
  readonly edition: null | number
  /** With the answer key in the answer spaces. */
  readonly key: boolean
}

/** A file on its way to be a worksheet. */
export type Upload = {
  readonly id: string
  readonly name: string
  readonly kind: DocumentKind
  readonly size: number
  /** Milliseconds since 1970. */
  readonly at: number
}

export type PhotoWorkDto = { readonly version: number; readonly work: object }

export type FinishDto = { readonly title: string; readonly content: object; readonly folderId: null | string }

export type SayOfAllDto = {
  readonly of: readonly SayOfDto[]
  readonly text: string
  /** A remark is unseen until it is handed back; left out: a comment. */
  readonly kind?: 'comment' | 'remark'
}

export type SayOfDto = {
  /** The address of the answer that it is about; left out: the whole copy. */
  readonly space?: string
  readonly copyId: string
  readonly threadId: string
  /** The id of the answer to it, which the page chooses. */
  readonly commentId: string
}

export type SaidOfDto = { readonly of: readonly QuestionDto[] }

export type QuestionDto = {
  readonly copyId: string
  readonly threadId: string
  /** The id of the answer to it, which the page chooses. */
  readonly commentId: string
}

export type CommentDto = {
  readonly text: string
  readonly threadId: string
  /** With the first one on something; null: a reply, or other words. */
  readonly begins: null | BeginsDto
}

export type BeginsDto = {
  readonly kind: ThreadKind
  /** Of a question: only the staff of the class sees it. */
  readonly staffOnly: boolean
  /** What it is about. */
  readonly anchor: object
}

export type DoneDto = { readonly done: boolean }

export type AnswerAllDto = { readonly text: string; readonly to: readonly QuestionDto[] }

/** A copy that somebody reads who holds no part of it. */
export type CopyToRead = {
  readonly id: string
  readonly title: string
  readonly handout: string
  readonly number: number
  readonly class: string
  readonly ink: string
  readonly permission: 'comment' | 'edit' | 'none' | 'view'
  /** By a holder; else chosen by the teacher. */
  readonly invited: boolean
  readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
  readonly dueAt: null | number
  /** Of who was chosen to read: until when, and how far they are. Times in milliseconds since 1970. */
  readonly until: null | number
  readonly openedAt: null | number
  readonly doneAt: null | number
  /** How many comments of theirs stand there. */
  readonly comments: number
}

/** A copy in which something came late that nobody has decided on. */
export type LateCopy = {
  readonly copyId: string
  readonly copyTitle: string
  readonly handoutTitle: string
  readonly number: number
  readonly class: string
  /** Answers in which something came late, and when the last of it came, in milliseconds since 1970. */
  readonly count: number
  readonly at: number
}

/** A part of the page that is somebody's or a group's. */
export type PlaceShown = {
  readonly name: string
  readonly isOwn: boolean
  /** The addresses of its answers. */
  readonly spaces: readonly string[]
}

/** An answer whose space the edition of the copy does not have any more. */
export type KeptAnswer = {
  readonly space: string
  readonly label: string
  readonly text: string
  /** The edition it was asked in. */
  readonly edition: number
}

export type ReadDto = {
  /** False: not yet, after all. */
  readonly done: boolean
}

/** What one person wrote too late in one answer, and what it would change. */
export type LateWriting = {
  /** The address of the answer and the id of who wrote. */
  readonly id: string
  readonly space: string
  /** When it began and when the last of it came, in milliseconds since 1970. */
  readonly began: number
  readonly at: number
  /** Why the copy stood still then: a sentence. */
  readonly reason: string
  readonly by: string
  /** What is other in the answer with it, as the answer stands now; empty: nothing any more. */
  readonly parts: readonly AnswerPart[]
  /** What these parts were read from: the last change of the answer, and the last that came late. */
  readonly seen: { readonly answer: number; readonly late: number }
  /** What its teachers made of it, by name, and of which parts; null: nothing yet. */
  readonly decided: null | Decided
}

/** What the teachers of a copy made of late writing. */
export type Decided = {
  readonly decision: 'left out' | 'taken in' | 'taken in part'
  /** Milliseconds since 1970. */
  readonly at: number
  readonly by: string
  readonly parts: readonly DecidedPart[]
}

export type LateDecisionDto = {
  /** The address of the answer and the id of who wrote. */
  readonly id: string
  /** What was seen when it was decided. */
  readonly seen: SeenLateDto
  /** Of the parts that are taken in; null: all. None: it is left out. */
  readonly parts: null | readonly string[]
}

export type SeenLateDto = { readonly answer: number; readonly late: number }

/** What was done to bring a copy to its last good state. */
export type LastGood = {
  /** Updates that were set aside, from the one that takes too long on. */
  readonly setAside: number
}

export type InviteDto = {
  /** Null: let out again. */
  readonly may: 'comment' | 'edit' | 'view' | null
}

export type DocumentDto = {
  /** It is the answer. */
  readonly isAnswer?: boolean
  /** It is taken out; false: put back. */
  readonly isOut?: boolean
}

export type SubmittedDto = {
  readonly copyIds: readonly string[]
  /** False: they are taken back for their holders, to be worked in again. */
  readonly submitted: boolean
}

/** A copy that somebody has for themselves. */
export type OwnCopy = {
  readonly id: string
  readonly slotKey: string
  readonly itemId: string
  readonly worksheetId: string
  readonly edition: number
  readonly link: null | string
  /** Somebody wrote, commented, handed in or kept a file in it. */
  readonly isTouched: boolean
}

export type MatchDto = {
  readonly studentId: string
  /** What was shown: whether it stands beside the student's own. */
  readonly beside: boolean
}

/** A handout in the list of its class. Times in milliseconds since 1970. */
export type HandoutListed = {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly setId: null | string
  readonly unit: null | string
  readonly opensAt: null | number
  readonly dueAt: null | number
  readonly handedOutAt: null | number
  readonly updatedAt: number
  /** The slip was edited since it was handed out. */
  readonly mended: boolean
  /** How many copies are in which state. */
  readonly states: {
    readonly 'not opened'?: number
    readonly opened?: number
    readonly working?: number
    readonly 'taken back'?: number
    readonly submitted?: number
    readonly marked?: number
    readonly 'handed back'?: number
  }
}

/** One class of a handout, with what its proof is computed from. */
export type SlipPart = {
  /** Null: the handout has not been kept for this class yet. */
  readonly id: null | string
  readonly number: number
  readonly handedOutAt: null | number
  readonly classId: string
  readonly facts: {
    /** The number of the handout in this class. */
    readonly number: number
    readonly classId: string
    readonly className: string
    /** The students of the class in the order of the roster; the order decides which of two equal names is numbered. */
    readonly members: readonly PlanMember[]
    readonly guests: readonly PlanGuest[]
    /** Who made a copy of their own of something to read. */
    readonly ownCopies: readonly { readonly itemId: string; readonly personId: string }[]
    readonly columns: readonly { readonly id: string; readonly name: string }[]
    readonly groupSets: readonly PlanGroupSet[]
    readonly units: readonly { readonly id: string; readonly name: string }[]
    readonly staff: readonly { readonly personId: string; readonly email: null | string }[]
    /** When the handout was begun, milliseconds since 1970: the date in names when there is no due time. */
    readonly begunAt: number
    /** IANA time zone of the school. */
    readonly timeZone: string
    /** BCP 47 tag of the school's language. */
    readonly locale: string
  }
  readonly existing: Existing
}

export type BeginHandoutDto = {
  /** Chosen by who begins it: sent twice it is one. */
  readonly id?: string
  readonly title: string
  readonly statement: object
}

export type KeepHandoutDto = { readonly version: number; readonly title: string; readonly statement: object }

export type RepeatDto = { readonly classId: string }

export type HandOutDto = {
  readonly version: number
  /** Of the changes in the proof that was seen. */
  readonly fingerprint: string
}

/** How far a hand-out is, in all classes together. */
export type RunSoFar = {
  readonly total: number
  readonly done: number
  readonly finished: boolean
  readonly failures: readonly { readonly slotKey: string; readonly reason: string }[]
}

export type RetryDto = {
  /** Left out: all that failed. */
  readonly slotKeys?: readonly string[]
}

export type UndoDto = {
  /** Of what its proof showed. */
  readonly fingerprint: string
}

export type TakeBackDto = {
  readonly slotKeys: readonly string[]
  /** True: give them again. */
  readonly back: boolean
}

export type GiveDto = { readonly personIds: readonly string[] }

export type DueDto = {
  readonly copyIds: readonly string[]
  /** Milliseconds since 1970. */
  readonly dueAt: number
}

export type SingleDto = {
  readonly copyIds: readonly string[]
  /** Left out: they are called as before. */
  readonly renaming?: RenamingDto
  /** What their holders may; null: as the slip says; left out: as before. */
  readonly may?: 'comment' | 'edit' | 'none' | 'view' | null
  /** They go to the newest edition of their worksheet. */
  readonly newest?: boolean
}

export type RenamingDto = {
  readonly how: 'after' | 'another title' | 'as the slip says' | 'before'
  readonly text: string
}

/** What would become of them. */
export type SingleProof = {
  readonly renamed: readonly { readonly from: string; readonly to: string }[]
  /** In how many copies people may something else. */
  readonly permitted: number
  readonly moved: readonly {
    readonly title: string
    readonly slotKey: string
    readonly worksheetId: null | string
    readonly from: number
    readonly to: number
  }[]
}

/** A link by which guests come to the copies of an item. Times in milliseconds since 1970. */
export type LinkOfItem = {
  readonly itemId: string
  readonly code: string
  readonly permission: 'comment' | 'edit' | 'view'
  readonly open: boolean
  readonly endsAt: null | number
  /** How many guests it lets in, and how many came. */
  readonly places: number
  readonly guests: number
  readonly uses: readonly {
    readonly name: string
    readonly at: number
    /** Not the first time. */
    readonly again: boolean
    /** Somebody of the roster has this name too. */
    readonly like: null | string
  }[]
}

export type WalkInDto = {
  readonly permission: 'comment' | 'edit' | 'view'
  readonly open: boolean
  readonly endsAt: null | number
  readonly newCode?: boolean
  /** How many guests it lets in. */
  readonly places?: number
}

export type ClearGuestsDto = {
  /** Those too who have written something. */
  readonly all: boolean
}

export type EnterDto = { readonly name: string }

export type RecipeDto = { readonly name: string; readonly statement: object }

export type ShelfDto = { readonly items: readonly object[]; readonly version: number }

/** A class of somebody. */
export type ClassListed = {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly role: ClassRole
  readonly archived: boolean
  readonly students: number
}

export type ClassDto = { readonly subject: string; readonly ink: string; readonly name: string; readonly year: string }

export type StaffMember = {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: null | string
  readonly canSignIn: boolean
  readonly role: ClassRole
  /** Whom a named helper helps. */
  readonly studentIds: readonly string[]
}

export type RulesDto = {
  /** Students comment on what others of the class write. */
  readonly classmatesComment: boolean
  /** Students see when somebody of the staff has their copy open. */
  readonly staffShown: boolean
  /** Whoever helps in the class gives marks too. */
  readonly helpersMark: boolean
}

export type UnitsDto = { readonly units: readonly UnitDto[] }

export type UnitDto = { readonly id?: string; readonly name: string }

export type AddStaffDto = {
  readonly email: string
  readonly first?: string
  readonly last?: string
  readonly role: StaffRole
  readonly studentIds: readonly string[]
}

export type StaffPlaceDto = { readonly role: StaffRole; readonly studentIds: readonly string[] }

export type CarryDto = {
  readonly staff: boolean
  readonly units: boolean
  readonly columns: boolean
  readonly handouts: boolean
  readonly shelf: boolean
  /** Who comes along; null: all who are in the class now. */
  readonly students: null | readonly string[]
  readonly cells: boolean
  readonly groups: boolean
  readonly name: string
  readonly year: string
}

/** A class that somebody is in or was in, with what stands in their row. Times in milliseconds since 1970. */
export type ClassOfPerson = {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly role: ClassRole
  readonly archived: boolean
  readonly cells: { readonly [key: string]: string }
  readonly columns: readonly { readonly id: string; readonly name: string }[]
  readonly joinedAt: number
  readonly leftAt: null | number
}

/** A group that somebody is in. */
export type GroupOfPerson = {
  readonly setId: string
  readonly classId: string
  readonly set: string
  readonly group: string
}

export type PeoplePage = {
  readonly people: readonly OfficePerson[]
  /** How many are found, and how many there are. */
  readonly total: number
  readonly everybody: number
}

/** Somebody as the office sees them. */
export type OfficePerson = {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: null | string
  readonly number: null | string
  readonly cardName: null | string
  readonly role: SchoolRole
  readonly canSignIn: boolean
  readonly classes: string
  readonly copies: number
}

/** Who may be there twice. */
export type PossibleDoubles = {
  readonly pairs: readonly (readonly [OfficePerson, OfficePerson])[]
  /** How many there are beside these, as far as they were looked for. */
  readonly more: number
  /** There are no others. */
  readonly isAll: boolean
}

/** Somebody at whose sign-in much failed. */
export type TroubledSignIn = {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly failures: number
  /** From how many network addresses. */
  readonly addresses: number
  /** Milliseconds since 1970. */
  readonly lastAt: number
}

export type PersonDto = {
  readonly first: string
  readonly last: string
  readonly email: string
  readonly number: string
  readonly role: SchoolRole
}

export type ResetDto = { readonly how: 'card' | 'mail' }

/** What a student needs to sign in for the first time, to be printed and cut. */
export type SignInCard = {
  readonly personId: string
  readonly first: string
  readonly last: string
  /** The e-mail, or for who has none the class code with a number. */
  readonly signInName: string
  readonly password: string
}

export type MergeDto = { readonly keepId: string; readonly otherId: string }

/** Somebody who was found. */
export type FoundPerson = {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: null | string
  readonly role: SchoolRole
  readonly classes: string
}

/** A group set as staff see it. */
export type GroupSet = {
  readonly id: string
  readonly name: string
  readonly balanceColumn: null | string
  readonly version: number
  /** Groups of names that look alike that are two, as their teachers said; the smaller id first. */
  readonly different: readonly (readonly [string, string])[]
  readonly signUp: OpenTimes
  readonly groups: readonly Group[]
  /** People who keep their group when groups are made again. */
  readonly locked: readonly string[]
  readonly pairs: readonly GroupPair[]
}

export type NewSetDto = {
  readonly name: string
  readonly balanceColumn: null | string
  readonly arrangement?: ArrangementDto
}

export type ArrangementDto = {
  readonly groups: readonly GroupDto[]
  readonly locked: readonly string[]
  readonly pairs: readonly PairDto[]
}

export type GroupDto = {
  readonly id: string
  readonly name: string
  readonly places: null | number
  readonly personIds: readonly string[]
}

export type PairDto = { readonly a: string; readonly b: string; readonly kind: 'apart' | 'together' }

export type ChangeSetDto = {
  readonly name: string
  readonly balanceColumn: null | string
  readonly signUp: OpenTimesDto
  readonly places?: readonly PlacesDto[]
}

/** Something that opens and closes by hand, and within times if there are any. */
export type OpenTimesDto = { readonly open: boolean; readonly opensAt: null | number; readonly closesAt: null | number }

export type PlacesDto = { readonly groupId: string; readonly places: null | number }

export type ArrangeDto = {
  readonly version: number
  readonly groups: readonly GroupDto[]
  readonly locked: readonly string[]
  readonly pairs: readonly PairDto[]
}

export type MoveDto = { readonly groupId: null | string; readonly personIds: readonly string[] }

export type TellApartDto = { readonly one: string; readonly two: string }

/** A set in which a student may choose a group, with the name of the one they are in. */
export type SignUpListed = {
  readonly group: null | string
  readonly name: string
  readonly id: string
  readonly state: 'closed' | 'not yet' | 'open' | 'over'
  readonly class: string
  readonly opensAt: null | number
  readonly closesAt: null | number
}

/** A sign-up as a student of the class sees it. */
export type SignUp = {
  readonly id: string
  readonly name: string
  readonly class: string
  readonly state: 'closed' | 'not yet' | 'open' | 'over'
  readonly opensAt: null | number
  readonly closesAt: null | number
  readonly groups: readonly {
    readonly id: string
    readonly name: string
    readonly places: null | number
    readonly people: readonly { readonly first: string; readonly last: string }[]
  }[]
  /** The group this student is in. */
  readonly mine: null | string
  /** The teacher has put this student where they are. */
  readonly kept: boolean
}

export type ChooseDto = { readonly groupId: null | string }

/** What happened to a copy, and who had a part in it; what was written is in its log. */
export type CopyHistory = {
  readonly people: readonly { readonly id: string; readonly name: string }[]
  readonly steps: readonly KeptStep[]
  readonly mayBringBack: boolean
}

/** A step of a copy, with the names of who took it. */
export type KeptStep = {
  readonly kind:
    | 'answers brought back'
    | 'brought back'
    | 'brought to last good'
    | 'first written in'
    | 'given'
    | 'guest matched'
    | 'guest not matched'
    | 'hand-back withdrawn'
    | 'handed back'
    | 'late writing'
    | 'late writing left out'
    | 'late writing taken in'
    | 'marked'
    | 'opened'
    | 'opened again'
    | 'pens down'
    | 'pens up'
    | 'set aside'
    | 'submitted'
    | 'taken back'
  /** Milliseconds since 1970. */
  readonly at: number
  /** Null: nobody, it came by itself. */
  readonly personId: null | string
  /** The address of the answer that it is about; null: the copy. */
  readonly space: null | string
}

export type BringBackDto = { readonly answers: readonly BroughtBackDto[] }

export type BroughtBackDto = {
  /** The address of the answer. */
  readonly space: string
  /** How many of its changes it is to be as after. */
  readonly count: number
}

/** An answer, and how many of its changes it is to be as after. */
export type BroughtBack = { readonly space: string; readonly count: number }

/** A student of a class. */
export type RosterStudent = {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: null | string
  /** Student number. */
  readonly number: null | string
  /** What stands in the extra columns, by column id. */
  readonly cells: { readonly [key: string]: string }
  readonly joinedAt: number
  readonly leftAt: null | number
  /** Has a password and can sign in. */
  readonly canSignIn: boolean
  /** When the last invitation by mail went out or was to go out; null: never. */
  readonly invitedAt: null | number
}

export type SaveRosterDto = {
  readonly rows: readonly RosterRowDto[]
  /** Students who are not in the list and leave the class. */
  readonly leave?: readonly string[]
}

export type RosterRowDto = {
  readonly first: string
  readonly last: string
  readonly email: string
  /** Student number. */
  readonly number?: string
  /** Whom of the class it is about, where that was asked; null: somebody else of the same name. */
  readonly sameAs?: null | string
  /** Row of the list it stood in, counted from 0: what is said of it names that row. */
  readonly line?: number
  /** Extra columns, by name. */
  readonly cells?: { readonly [key: string]: string }
}

/** What saving a list did. */
export type SavedList = {
  readonly added: number
  readonly changed: number
  readonly unchanged: number
  readonly back: number
  readonly left: number
}

export type CellEditsDto = { readonly edits: readonly CellEditDto[] }

export type CellEditDto = {
  readonly personId: string
  /** last, first, email, number, or the id of a column. */
  readonly field: string
  readonly value: string
}

export type PeopleDto = { readonly personIds: readonly string[] }

export type BringFromDto = {
  /** The class they are in. */
  readonly from: string
  readonly personIds: readonly string[]
}

export type NewColumnDto = { readonly kind: 'tags' | 'text'; readonly name: string }

export type ColumnDto = { readonly name: string }

/** A join page as its class sees it. */
export type JoinPage = {
  /** How many may wait at most. */
  readonly places: number
  readonly code: string
  readonly requests: readonly JoinRequest[]
  readonly open: boolean
  readonly opensAt: null | number
  readonly closesAt: null | number
}

/** Somebody who asks to be let in, with who in the class they may be. */
export type JoinRequest = {
  readonly id: string
  readonly first: string
  readonly last: string
  readonly email: string
  readonly at: number
  readonly twins: readonly {
    readonly personId: string
    readonly first: string
    readonly last: string
    readonly email: null | string
    readonly left: boolean
    readonly reason: 'nearly the same name' | 'the same e-mail' | 'the same name'
  }[]
}

export type JoinTimesDto = {
  /** How many may wait at most; left out: as it is. */
  readonly places?: number
  readonly open: boolean
  readonly opensAt: null | number
  readonly closesAt: null | number
}

export type DecideDto = { readonly letIn: readonly LetInDto[]; readonly turnAway: readonly string[] }

export type LetInDto = {
  readonly id: string
  /** The student this is; null: somebody new. */
  readonly as: null | string
}

/** What strangers are told of a class whose code they have. */
export type JoinFace = {
  readonly class: string
  readonly subject: string
  readonly school: string
  /** IANA time zone and language tag of the school: whoever asks may not be signed in. */
  readonly timeZone: string
  readonly locale: string
  readonly state: 'closed' | 'not yet' | 'open' | 'over'
  readonly opensAt: null | number
  readonly closesAt: null | number
}

export type AskDto = { readonly first: string; readonly last: string; readonly email: string }

/** A rubric that somebody may use. */
export type RubricListed = {
  readonly id: string
  readonly name: string
  /** How many rows it has. */
  readonly count: number
  readonly shared: boolean
  /** Whose it is; null: one's own. */
  readonly by: null | { readonly first: string; readonly last: string }
}

export type KeptRubricDto = {
  /** The other teachers of the school may use it too. */
  readonly shared: boolean
  readonly name: string
  /** As in a slip. */
  readonly rows: readonly object[]
}

export type RubricOutDto = {
  readonly name: string
  /** As in a slip. */
  readonly rows: readonly object[]
}

export type KeptScaleDto = {
  readonly name: string
  /** Best first. */
  readonly steps: readonly string[]
  /** From how many per cent each is reached; null: given by hand. */
  readonly from: null | readonly number[]
}

/** A handout as a column of a mark book. Times in milliseconds since 1970. */
export type HandoutColumn = {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly unit: null | string
  readonly givenAt: null | number
  readonly dueAt: null | number
  /** Which mark counts where copies were opened again. */
  readonly rounds: 'best' | 'last' | 'mean'
}

export type MarkBookRulesDto = {
  readonly missing: 'nothing' | 'zero'
  /** Only so many of the best count in each unit; null: all. */
  readonly best: null | number
  /** By the ids of handouts and columns; left out: 1. */
  readonly weights: { readonly [key: string]: number }
}

export type StudentNoteDto = {
  /** As it stood on the page. */
  readonly was: string
  readonly to: string
}

export type MarkColumnDto = {
  readonly name: string
  readonly unit: null | string
  /** In hundredths of a point. */
  readonly most: number
}

export type WithMarksDto = {
  /** Its marks go with it. */
  readonly withMarks: boolean
}

export type PaperMarksDto = { readonly marks: readonly PaperMarkDto[] }

export type PaperMarkDto = {
  readonly personId: string
  /** As it stood on the page. */
  readonly was: PaperCellDto
  readonly to: PaperCellDto
}

export type PaperCellDto = {
  /** In hundredths of a point; null: none. */
  readonly total: null | number
  readonly excused: boolean
}

export type MarkWishesDto = { readonly marks: readonly MarkWishDto[] }

export type MarkWishDto = {
  readonly copyId: string
  /** What of it is one holder's alone; null: the whole copy's. */
  readonly personId: null | string
  /** Each with what stood there before. */
  readonly changes: readonly object[]
  /** The marking of the copy is done, or not; left out: as it is. */
  readonly done?: boolean
}

export type ReadingDto = {
  /** In hundredths of a point. */
  readonly total: null | number
  readonly step: null | string
  readonly remark: string
}

export type OtherWayDto = {
  /** As in a slip, with its rubric and what is deducted for late work; left out: as it is. */
  readonly marking?: object
  readonly rubric?: readonly object[]
  readonly lateDeduction?: null | object
  /** Copies that would be of another edition or due at another time. */
  readonly copies?: readonly CopyThenDto[]
}

export type CopyThenDto = {
  readonly slotKey: string
  /** Left out, with its edition: as it is. */
  readonly worksheetId?: string
  readonly edition?: number
  /** Milliseconds since 1970; left out: as it is. */
  readonly dueAt?: null | number
}

export type HandBackDto = {
  /** Left out: all. */
  readonly copyIds?: readonly string[]
  /** To each student, with tokens such as `{first name}`. */
  readonly message: string
  readonly byMail: boolean
}

export type HandBackNowDto = {
  /** When, in milliseconds since 1970; left out: now. */
  readonly at?: number
  /** Of the proof that was looked at. */
  readonly fingerprint: string
  /** Left out: all. */
  readonly copyIds?: readonly string[]
  /** To each student, with tokens such as `{first name}`. */
  readonly message: string
  readonly byMail: boolean
}

export type CopiesDto = { readonly copyIds: readonly string[] }

/** A mark of the pen as somebody is shown it. */
export type PenMarkSeen = {
  readonly id: string
  /** They made it, and may take it out. */
  readonly isOwn: boolean
  readonly kind: 'cross' | 'stroke' | 'tick'
  readonly over: { readonly is: 'print' | 'space'; readonly id: string }
  /** Of a tick or a cross one, where its middle is. */
  readonly points: readonly (readonly [number, number])[]
}

export type PenMarkDto = {
  readonly kind: 'cross' | 'stroke' | 'tick'
  /** What it is over: an answer space, or a block of the print. */
  readonly over: object
  /** Places in thousandths of its width. */
  readonly points: readonly (readonly [number, number])[]
}

export type StockRemarkDto = {
  /** By which it is called up. */
  readonly short: string
  readonly text: string
  /** Also where it stands in copies already. */
  readonly everywhere?: boolean
}

export type MovePensDto = {
  readonly copyIds: readonly string[]
  readonly act: 'down' | 'down later' | 'up'
  /** Of `down later`: after how many minutes. */
  readonly minutes?: number
  /** Of `down later`: how many minutes more some of the copies have. */
  readonly more?: readonly ExtraMinutesDto[]
}

export type ExtraMinutesDto = { readonly copyId: string; readonly minutes: number }

export type ExtraTimesDto = { readonly extraTime: readonly ExtraTimeDto[] }

export type ExtraTimeDto = {
  /** One student; else a value in a column. */
  readonly personId?: string
  readonly columnId?: string
  readonly is?: string
  readonly percent: number
}

/** Something that happened to a copy. */
export type SchoolEvent = {
  /** To be read on from. */
  readonly number: number
  /** Milliseconds since 1970. */
  readonly at: number
  readonly kind:
    | 'brought back'
    | 'handed back'
    | 'handed out'
    | 'marked'
    | 'opened'
    | 'pens down'
    | 'pens up'
    | 'set aside'
    | 'submitted'
    | 'taken back'
  readonly classId: string
  readonly handoutId: string
  readonly copyId: string
  /** Who did it; null: the clock. */
  readonly byPersonId: null | string
  /** Who holds the copy. */
  readonly holderIds: readonly string[]
}

export type TokenDto = {
  /** What it is for. */
  readonly name: string
  readonly scopes: readonly ('copies' | 'hand out' | 'read' | 'rosters' | 'worksheets')[]
  /** After how many days it ends. */
  readonly days: number
}

export type WebhookDto = {
  readonly address: string
  readonly kinds: readonly (
    | 'brought back'
    | 'handed back'
    | 'handed out'
    | 'marked'
    | 'opened'
    | 'pens down'
    | 'pens up'
    | 'set aside'
    | 'submitted'
    | 'taken back'
  )[]
}

export type LikenessDto = {
  /** Against one's other classes, and earlier years, too. */
  readonly withOthers: boolean
  /** Texts to compare with; they are not kept. */
  readonly beside: readonly BesideDto[]
}

export type BesideDto = { readonly name: string; readonly text: string }

export type CameInDto = { readonly runs: readonly WordsDto[] }

export type WordsDto = { readonly copyId: string; readonly space: string; readonly words: string }

export type RemindersDto = {
  readonly copyIds: readonly string[]
  /** What is said besides; '': nothing. */
  readonly words: string
  /** What is missing, if nothing is said. */
  readonly about?: 'message' | 'missing' | 'question answered'
}

export type SaveCopiesDto = {
  readonly format: 'docx' | 'html' | 'odt' | 'pdf'
  /** Of this handout. */
  readonly handoutId?: string
  /** Or of all handouts of this class. */
  readonly classId?: string
  /** Or all that this student holds. */
  readonly studentId?: string
  /** Left out: all. */
  readonly copyIds?: readonly string[]
}

/** Something that somebody was given to keep. Times in milliseconds since 1970. */
export type KeptRow = {
  readonly id: string
  /** Their own copy; null: they have not opened it. */
  readonly copyId: null | string
  /** The copy of the class, as it was handed in. */
  readonly fromCopyId: string
  readonly worksheet: string
  readonly handout: string
  readonly number: number
  readonly class: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly at: number
  readonly by: string
  readonly lastActivityAt: null | number
}

export type KeepProofDto = {
  /** Of this handout. */
  readonly handoutId?: string
  /** Or of all handouts of this class. */
  readonly classId?: string
  /** Or what this student holds in the classes that one teaches. */
  readonly studentId?: string
  /** Left out: all. */
  readonly copyIds?: readonly string[]
  /** Also what is worked in and not submitted. */
  readonly unfinished: boolean
}

export type KeepDto = {
  /** Of what the proof showed. */
  readonly fingerprint: string
  /** Of this handout. */
  readonly handoutId?: string
  /** Or of all handouts of this class. */
  readonly classId?: string
  /** Or what this student holds in the classes that one teaches. */
  readonly studentId?: string
  /** Left out: all. */
  readonly copyIds?: readonly string[]
  /** Also what is worked in and not submitted. */
  readonly unfinished: boolean
}

/** What each address answers. */
export interface Answers {
  'DELETE account/calendar': undefined
  'GET account/calendar': { readonly address: null | string }
  'POST account/calendar': { readonly address: null | string }
  'POST account/forgotten': undefined
  'POST account/link': LinkHolder
  'PUT account/password': undefined
  'POST account/password-by-link': undefined
  'GET bring-in': Upload[]
  'POST bring-in': {
    readonly id: string
    readonly name: string
    readonly kind: DocumentKind
    readonly size: number
    readonly before: readonly { readonly worksheetId: string; readonly title: string; readonly at: number }[]
  }
  'DELETE bring-in/{bringInId}': undefined
  'GET bring-in/{bringInId}': Upload
  'POST bring-in/{bringInId}/finish': { readonly worksheetId: string }
  'POST bring-in/{bringInId}/media': Medium
  'POST bring-in/{bringInId}/photos': { readonly id: string }
  'POST bring-in/{bringInId}/read': {
    readonly title: string
    readonly content: WorksheetContent
    readonly notes: readonly string[]
  }
  'GET bring-in/{bringInId}/work': { readonly version: number; readonly work: null | PhotoWork }
  'PUT bring-in/{bringInId}/work': { readonly version: number }
  'GET classes': ClassListed[]
  'POST classes': { readonly id: string }
  'GET classes/{classId}':
    | {
        readonly role: 'student'
        readonly staff: readonly { readonly first: string; readonly last: string; readonly role: ClassRole }[]
        readonly id: string
        readonly name: string
        readonly subject: string
        readonly year: string
        readonly ink: string
        readonly archived: boolean
        /** What holds for the copies in it. */
        readonly classmatesComment: boolean
        readonly staffShown: boolean
        readonly helpersMark: boolean
        /** The class of an earlier year that it was made from. */
        readonly carriedFrom: null | { readonly id: string; readonly name: string; readonly year: string }
      }
    | {
        readonly role: 'co-teacher' | 'helper' | 'lead' | 'left' | 'named helper' | 'none'
        readonly staff: readonly StaffMember[]
        readonly units: readonly {
          /** As it is called in this class. */
          readonly name: string
          readonly id: string
        }[]
        readonly columns: readonly RosterColumn[]
        readonly id: string
        readonly name: string
        readonly subject: string
        readonly year: string
        readonly ink: string
        readonly archived: boolean
        /** What holds for the copies in it. */
        readonly classmatesComment: boolean
        readonly staffShown: boolean
        readonly helpersMark: boolean
        /** The class of an earlier year that it was made from. */
        readonly carriedFrom: null | { readonly id: string; readonly name: string; readonly year: string }
      }
  'PUT classes/{classId}': undefined
  'POST classes/{classId}/archive': undefined
  'POST classes/{classId}/bring-back': undefined
  'POST classes/{classId}/carry': { readonly id: string; readonly handouts: number }
  'POST classes/{classId}/columns': { readonly id: string }
  'DELETE classes/{classId}/columns/{columnId}': undefined
  'PUT classes/{classId}/columns/{columnId}': undefined
  'POST classes/{classId}/columns/{columnId}/return': undefined
  'GET classes/{classId}/extra-time': {
    readonly rules: readonly ExtraTime[]
    readonly students: readonly { readonly personId: string; readonly percent: number }[]
  }
  'PUT classes/{classId}/extra-time': {
    readonly rules: readonly ExtraTime[]
    readonly students: readonly { readonly personId: string; readonly percent: number }[]
  }
  'GET classes/{classId}/group-sets': GroupSet[]
  'POST classes/{classId}/group-sets': { readonly id: string }
  'GET classes/{classId}/handouts': HandoutListed[]
  'POST classes/{classId}/handouts': {
    readonly id: string
    readonly number: number
    readonly version: number
    readonly wasThere: boolean
  }
  'GET classes/{classId}/handouts/beginning': {
    readonly number: number
    readonly worksheets: readonly PlanWorksheet[]
    readonly classes: readonly { readonly id: string; readonly name: string; readonly subject: string }[]
    readonly parts: readonly SlipPart[]
  }
  'GET classes/{classId}/handouts/facts': SlipPart
  'POST classes/{classId}/invitations': { readonly invited: number }
  'GET classes/{classId}/join': JoinPage
  'PUT classes/{classId}/join': undefined
  'POST classes/{classId}/join/decide': { readonly letIn: number; readonly turnedAway: number }
  'POST classes/{classId}/join/new-code': { readonly code: string }
  'GET classes/{classId}/mail': MailroomLine[]
  'POST classes/{classId}/mail/again': { readonly sent: number }
  'GET classes/{classId}/mark-book': {
    readonly rules: MarkBookRules
    readonly mayMark: boolean
    readonly maySetUp: boolean
    readonly students: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
    readonly handouts: readonly HandoutColumn[]
    readonly earlier: readonly {
      readonly handoutId: string
      readonly personId: string
      readonly total: number
      readonly most: number
    }[]
    readonly paper: readonly {
      readonly name: string
      readonly id: string
      /** The name of its unit; null: none. */
      readonly unit: null | string
      /** Out of how many, in hundredths of a point. */
      readonly most: number
    }[]
    readonly copies: readonly BookCopies[]
    readonly paperMarks: readonly {
      readonly columnId: string
      readonly personId: string
      readonly total: null | number
      readonly excused: boolean
    }[]
    /** One's own, by student. */
    readonly notes: readonly {
      readonly text: string
      /** Of whom. */
      readonly studentId: string
    }[]
  }
  'GET classes/{classId}/mark-book/columns/{columnId}': {
    readonly students: readonly { readonly personId: string }[]
    readonly copies: readonly never[] | readonly BookCopies[]
    readonly earlier: readonly {
      readonly handoutId: string
      readonly personId: string
      readonly total: number
      readonly most: number
    }[]
    readonly paperMarks: readonly {
      readonly personId: string
      /** In hundredths of a point; null: none. */
      readonly total: null | number
      readonly excused: boolean
      readonly columnId: string
    }[]
  }
  'PUT classes/{classId}/mark-book/columns/{columnId}': undefined
  'PUT classes/{classId}/mark-book/columns/{columnId}/marks': undefined
  'POST classes/{classId}/mark-book/columns/{columnId}/remove': undefined
  'PUT classes/{classId}/mark-book/notes/{personId}': undefined
  'PUT classes/{classId}/mark-book/rules': undefined
  'GET classes/{classId}/overview': {
    readonly students: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
    readonly handouts: readonly OverviewHandout[]
    readonly copies: readonly {
      readonly personIds: readonly string[]
      readonly title: string
      readonly copyId: string
      readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
      readonly pensDown: boolean
      readonly answered: number
      readonly dueAt: null | number
      readonly submittedAt: null | number
      readonly handoutId: string
      readonly spaces: number
    }[]
  }
  'GET classes/{classId}/roster': RosterStudent[]
  'PATCH classes/{classId}/roster': RosterStudent[]
  'POST classes/{classId}/roster': SavedList
  'POST classes/{classId}/roster/from': { readonly added: number }
  'POST classes/{classId}/roster/leave': { readonly left: number }
  'POST classes/{classId}/roster/return': { readonly back: number }
  'PUT classes/{classId}/rules': undefined
  'GET classes/{classId}/scales': {
    readonly name: string
    readonly id: string
    /** Null: the school's. */
    readonly classId: null | string
    /** From how many per cent each is reached; null: given by hand. */
    readonly from: null | readonly number[]
    /** Best first. */
    readonly steps: readonly string[]
  }[]
  'DELETE classes/{classId}/scales/{scaleId}': undefined
  'PUT classes/{classId}/scales/{scaleId}': undefined
  'GET classes/{classId}/shelf': {
    readonly version: number
    readonly mayChange: boolean
    readonly items: readonly {
      readonly title: string
      readonly newest: null | number
      readonly copyId: null | string
      readonly words: number
      readonly lastActivityAt: null | number
      readonly id: string
      readonly worksheetId: null | string
      /** The edition that is given. */
      readonly edition: null | number
      /** A web page in place of a worksheet. */
      readonly link: null | { readonly address: string; readonly title: string }
      readonly match: null | Matching
      readonly audience: Audience
      readonly way: 'one each' | 'one per group' | 'one together' | 'to read'
      /** Of whom one per group is given, and whose groups have places of their own in one together. */
      readonly groupSet: null | Ref
      readonly holdersMay: 'comment' | 'edit' | 'none' | 'view'
      readonly classmatesMay: 'comment' | 'edit' | 'none' | 'view'
      readonly peers: null | Peers
      /** Holders may let classmates into their copy. */
      readonly mayInvite: boolean
      /** In a copy with places of members or groups: whether others' are read by those who have one. */
      readonly othersPlaces: 'hidden' | 'hidden until due' | 'read'
      /** Whether who may only view a copy reads what is said in it. */
      readonly viewersReadComments: boolean
      /** Of something to read: whether who gets it may make a copy of their own, to write in. */
      readonly ownCopies: boolean
      readonly pattern: NamePattern
      /** Copies that stay on an earlier edition: slot key to its number. */
      readonly earlier: { readonly [key: string]: number }
      /** Slots taken back by hand, in one class alone where each has one (`slotInClass`). */
      readonly without: readonly string[]
      /** What single copies have of their own, in place of what the slip says: by slot, in one class alone (`slotInClass`). */
      readonly single: { readonly [key: string]: SingleCopy }
      readonly carry: 'give all' | 'give to writer' | 'keep aside'
      /** Where answers of several copies meet: which of them goes along, by `meetingKey`: the slot of its copy, `all` or `none`. */
      readonly carryChosen: { readonly [key: string]: string }
    }[]
  }
  'PUT classes/{classId}/shelf': {
    readonly version: number
    readonly mayChange: boolean
    readonly items: readonly {
      readonly title: string
      readonly newest: null | number
      readonly copyId: null | string
      readonly words: number
      readonly lastActivityAt: null | number
      readonly id: string
      readonly worksheetId: null | string
      /** The edition that is given. */
      readonly edition: null | number
      /** A web page in place of a worksheet. */
      readonly link: null | { readonly address: string; readonly title: string }
      readonly match: null | Matching
      readonly audience: Audience
      readonly way: 'one each' | 'one per group' | 'one together' | 'to read'
      /** Of whom one per group is given, and whose groups have places of their own in one together. */
      readonly groupSet: null | Ref
      readonly holdersMay: 'comment' | 'edit' | 'none' | 'view'
      readonly classmatesMay: 'comment' | 'edit' | 'none' | 'view'
      readonly peers: null | Peers
      /** Holders may let classmates into their copy. */
      readonly mayInvite: boolean
      /** In a copy with places of members or groups: whether others' are read by those who have one. */
      readonly othersPlaces: 'hidden' | 'hidden until due' | 'read'
      /** Whether who may only view a copy reads what is said in it. */
      readonly viewersReadComments: boolean
      /** Of something to read: whether who gets it may make a copy of their own, to write in. */
      readonly ownCopies: boolean
      readonly pattern: NamePattern
      /** Copies that stay on an earlier edition: slot key to its number. */
      readonly earlier: { readonly [key: string]: number }
      /** Slots taken back by hand, in one class alone where each has one (`slotInClass`). */
      readonly without: readonly string[]
      /** What single copies have of their own, in place of what the slip says: by slot, in one class alone (`slotInClass`). */
      readonly single: { readonly [key: string]: SingleCopy }
      readonly carry: 'give all' | 'give to writer' | 'keep aside'
      /** Where answers of several copies meet: which of them goes along, by `meetingKey`: the slot of its copy, `all` or `none`. */
      readonly carryChosen: { readonly [key: string]: string }
    }[]
  }
  'POST classes/{classId}/sign-in-cards': SignInCard[]
  'POST classes/{classId}/staff': { readonly personId: string; readonly invited: boolean }
  'DELETE classes/{classId}/staff/{personId}': undefined
  'PUT classes/{classId}/staff/{personId}': undefined
  'POST classes/{classId}/staff/{personId}/lead': undefined
  'PUT classes/{classId}/units': undefined
  'GET copies': {
    readonly number: number
    readonly handout: string
    readonly title: string
    /** It was taken out of their hands, with something of theirs in it. */
    readonly setAside: boolean
    readonly way: 'one each' | 'one per group' | 'one together' | 'to read'
    readonly id: string
    readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
    readonly pensDown: boolean
    readonly answered: number
    readonly words: number
    readonly dueAt: null | number
    readonly submittedAt: null | number
    readonly handoutId: string
    readonly worksheet: string
    readonly unit: null | string
    readonly link: null | string
    readonly kind: 'handout' | 'shelf'
    readonly class: string
    readonly subject: string
    readonly ink: string
    readonly note: null | NoteText
    readonly permission: 'comment' | 'edit' | 'none' | 'view'
    readonly lastActivityAt: null | number
    readonly givenAt: number
    /** Comments of others that they have not seen. */
    readonly newComments: number
    /** In how many of them they are named. */
    readonly newMentions: number
    /** The mark that they got back with it; null: none. */
    readonly back: null | {
      /** What counts: typed, or the sum less what late work loses, never below 0. */
      readonly total: null | number
      /** Out of how many; null: not marked by points. */
      readonly most: null | number
      readonly step: null | string
      readonly excused: boolean
      readonly isNew: boolean
    }
    readonly spaces: number
  }[]
  'GET copies/late-writing': LateCopy[]
  'GET copies/reading': CopyToRead[]
  'GET copies/{copyId}': {
    readonly asReader: null | {
      readonly lookFor: readonly string[]
      readonly until: null | number
      readonly isNamed: boolean
      readonly doneAt: null | number
      readonly comments: number
    }
    readonly readBy:
      | null
      | readonly {
          readonly name: null | string
          readonly openedAt: null | number
          readonly doneAt: null | number
          readonly comments: number
        }[]
    readonly handoutTitle: string
    readonly instructions: null | NoteText
    readonly marking:
      | null
      | { readonly kind: 'ungraded' }
      | { readonly kind: 'not marked' }
      | { readonly kind: 'points'; readonly points: number }
      | { readonly kind: 'spaces' }
      | { readonly kind: 'scale'; readonly steps: readonly string[]; readonly from?: readonly number[] }
    readonly rubric: readonly RubricRow[]
    readonly unit: null | string
    readonly note: null | NoteText
    readonly id: string
    readonly handoutId: string
    readonly classId: string
    readonly class: string
    readonly ink: string
    readonly number: number
    readonly title: string
    readonly worksheetTitle: string
    readonly content: WorksheetContent
    readonly places: readonly PlaceShown[]
    readonly language: string
    readonly page: string
    /** Of one that this person was given to keep: what it was in the class. */
    readonly keptFrom: null | { readonly copyId: string; readonly at: number; readonly by: string }
    readonly edition: number
    readonly way: 'one each' | 'one per group' | 'one together' | 'to read'
    readonly link: null | string
    readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
    readonly opensAt: null | number
    readonly dueAt: null | number
    readonly pensDownAtDue: boolean
    readonly lateWork: boolean
    readonly submittedAt: null | number
    readonly handingIn: null | {
      readonly kind: 'submitted' | 'taken back'
      readonly at: number
      readonly by: string
      readonly isSelf: boolean
      readonly isStaff: boolean
    }
    readonly handedBack: null | {
      readonly at: number
      readonly mark: MarkBack
      readonly message: string
      readonly lookedAt: null | number
    }
    /** Which answers are right, for holders where the slip says so; null: they are not told. */
    readonly checks: null | { readonly [key: string]: boolean }
    readonly permission: 'comment' | 'edit' | 'none' | 'view'
    readonly reason: string
    readonly isHolder: boolean
    readonly classmatesMay: 'comment' | 'edit' | 'none' | 'view'
    readonly mayTakeBack: boolean
    readonly holders: readonly string[]
    readonly others: readonly string[]
    readonly documents: readonly {
      /** Milliseconds since 1970. */
      readonly at: number
      readonly name: string
      readonly id: string
      readonly isAnswer: boolean
      readonly by: string
      readonly isOwn: boolean
    }[]
    readonly kept: readonly KeptAnswer[]
    readonly mayBringToLastGood: boolean
    readonly staffShown: boolean
    readonly mayMakeOwn: boolean
    readonly mayInvite: boolean
    readonly hasHistory: boolean
    readonly mayDecideOnLate: boolean
  }
  'GET copies/{copyId}/access': {
    readonly people: readonly {
      readonly name: null | string
      readonly ground: AccessGround
      readonly permission: 'comment' | 'edit' | 'view'
      readonly isSelf: boolean
    }[]
    readonly classmates: { readonly count: number; readonly permission: 'comment' | 'edit' | 'none' | 'view' }
  }
  'GET copies/{copyId}/comments': {
    readonly threads: readonly ThreadSeen[]
    readonly seenAt: null | number
    readonly mayAsk: boolean
    readonly people: readonly { readonly id: string; readonly name: string; readonly seenAt: null | number }[]
  }
  'POST copies/{copyId}/comments/seen': undefined
  'PUT copies/{copyId}/comments/{commentId}': { readonly thread: null | ThreadSeen }
  'POST copies/{copyId}/comments/{commentId}/bring-back': { readonly thread: null | ThreadSeen }
  'POST copies/{copyId}/comments/{commentId}/delete': { readonly thread: null | ThreadSeen }
  'POST copies/{copyId}/documents': {
    /** Milliseconds since 1970. */
    readonly at: number
    readonly name: string
    readonly id: string
    readonly isAnswer: boolean
    readonly by: string
    readonly isOwn: boolean
  }[]
  'PUT copies/{copyId}/documents/{fileId}': {
    /** Milliseconds since 1970. */
    readonly at: number
    readonly name: string
    readonly id: string
    readonly isAnswer: boolean
    readonly by: string
    readonly isOwn: boolean
  }[]
  'POST copies/{copyId}/files': { readonly id: string; readonly name: string }
  'POST copies/{copyId}/handed-back/looked': undefined
  'GET copies/{copyId}/hint': { readonly hint: string }
  'GET copies/{copyId}/history': CopyHistory
  'POST copies/{copyId}/history/bring-back': { readonly changed: readonly BroughtBack[] }
  'GET copies/{copyId}/invited': {
    readonly personId: string
    readonly name: string
    readonly may: 'comment' | 'edit' | 'none' | 'view' | null
  }[]
  'PUT copies/{copyId}/invited/{personId}': {
    readonly personId: string
    readonly name: string
    readonly may: 'comment' | 'edit' | 'none' | 'view' | null
  }[]
  'POST copies/{copyId}/last-good': LastGood
  'GET copies/{copyId}/late-writing': LateWriting[]
  'POST copies/{copyId}/late-writing': LateWriting[]
  'POST copies/{copyId}/own': { readonly copyId: string }
  'GET copies/{copyId}/pen': PenMarkSeen[]
  'DELETE copies/{copyId}/pen/{markId}': undefined
  'PUT copies/{copyId}/pen/{markId}': undefined
  'PUT copies/{copyId}/reading': undefined
  'POST copies/{copyId}/submit': {
    readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
    readonly submittedAt: null | number
  }
  'POST copies/{copyId}/take-back': {
    readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
    readonly submittedAt: null | number
  }
  'PUT copies/{copyId}/threads/{threadId}': { readonly thread: null | ThreadSeen }
  'GET desk/mentions': {
    readonly by: string
    readonly commentId: string
    readonly threadId: string
    readonly copyId: string
    readonly copyTitle: string
    readonly handoutTitle: string
    readonly number: number
    readonly class: string
    readonly text: string
    readonly at: number
  }[]
  'GET desk/needs': {
    readonly count: number
    readonly sentence: string
    readonly handoutId: string
    readonly classId: string
    readonly class: string
    readonly number: number
    readonly title: string
  }[]
  'GET desk/questions': {
    readonly by: string
    readonly asked: null | string
    readonly label: string
    readonly threadId: string
    readonly copyId: string
    readonly copyTitle: string
    readonly handoutId: string
    readonly handoutTitle: string
    readonly number: number
    readonly classId: string
    readonly class: string
    readonly text: string
    readonly at: number
    readonly worksheetId: string
  }[]
  'POST desk/questions/answer': { readonly failed: readonly { readonly threadId: string; readonly sentence: string }[] }
  'GET events': { readonly events: readonly SchoolEvent[]; readonly next: number }
  'GET find': {
    readonly people: readonly FoundPerson[]
    readonly worksheets: readonly { readonly id: string; readonly title: string; readonly archived: boolean }[]
    readonly handouts: readonly {
      readonly id: string
      readonly classId: string
      readonly class: string
      readonly number: number
      readonly title: string
      readonly handedOut: boolean
      readonly archived: boolean
    }[]
  }
  'GET folders': {
    /** As its owner called it. */
    readonly name: string
    readonly id: string
    /** The folder it is in; null: in none. */
    readonly parentId: null | string
  }[]
  'POST folders': { readonly id: string }
  'DELETE folders/{folderId}': undefined
  'PUT folders/{folderId}': undefined
  'DELETE group-sets/{setId}': undefined
  'PUT group-sets/{setId}': undefined
  'PUT group-sets/{setId}/arrangement': { readonly version: number }
  'DELETE group-sets/{setId}/different': undefined
  'POST group-sets/{setId}/different': undefined
  'POST group-sets/{setId}/moves': { readonly version: number }
  'POST group-sets/{setId}/return': undefined
  'DELETE handouts/{handoutId}': undefined
  'GET handouts/{handoutId}': {
    readonly id: string
    readonly classId: string
    readonly number: number
    readonly title: string
    readonly kind: 'handout' | 'kept' | 'shelf'
    readonly statement: Statement
    readonly given: null | Statement
    readonly version: number
    readonly handedOutAt: null | number
    readonly updatedAt: number
    readonly lastRunAt: null | number
    readonly undoable: null | { readonly kind: 'by itself' | 'hand out' | 'undo'; readonly at: number }
    readonly mayHandOut: boolean
    readonly worksheets: readonly PlanWorksheet[]
    readonly classes: readonly { readonly id: string; readonly name: string; readonly subject: string }[]
    readonly parts: readonly SlipPart[]
  }
  'PUT handouts/{handoutId}': { readonly version: number; readonly updatedAt: number }
  'GET handouts/{handoutId}/answers/{worksheetId}/{space}': {
    readonly question: string
    readonly kind: 'cell' | 'choice' | 'drawing' | 'file' | 'gap' | 'line' | 'number' | 'passage'
    /** What is accepted, or the model answer, for those who may know it; '': there is none. */
    readonly key: string
    /** What is accepted in this handout beside it; null: no more words can be, or it is not for who asks to know. */
    readonly accepted: null | readonly string[]
    readonly answers: readonly AnswerGiven[]
  }
  'PUT handouts/{handoutId}/answers/{worksheetId}/{space}/accepted': undefined
  'POST handouts/{handoutId}/answers/{worksheetId}/{space}/accepted/proof': {
    readonly changes: readonly {
      readonly copyId: string
      readonly of: null | string
      readonly text: string
      readonly right: boolean
    }[]
  }
  'GET handouts/{handoutId}/board': {
    readonly handout: BoardHead
    readonly guestsToMatch: number
    readonly sheets: readonly {
      readonly worksheetId: string
      readonly title: string
      readonly spaces: readonly BoardSpace[]
    }[]
    readonly leftOut: readonly LeftOut[]
    readonly looked: readonly { readonly copyId: string; readonly at: number }[]
    readonly rows: readonly BoardRow[]
  }
  'POST handouts/{handoutId}/comments': {
    readonly failed: readonly { readonly copyId: string; readonly sentence: string }[]
  }
  'POST handouts/{handoutId}/comments/take-back': {
    readonly failed: readonly { readonly copyId: string; readonly sentence: string }[]
  }
  'GET handouts/{handoutId}/differences': { readonly differences: null | DifferencesNow }
  'POST handouts/{handoutId}/due': RunSoFar
  'POST handouts/{handoutId}/give': RunSoFar
  'GET handouts/{handoutId}/guests': {
    readonly guests: readonly {
      readonly way: 'one each' | 'one per group' | 'one together' | 'to read' | null
      readonly own: null | OwnCopy
      readonly itemId: string
      readonly personId: string
      readonly name: string
      /** When they came first. */
      readonly cameAt: number
      /** The copy in which they are; null: it was taken back. */
      readonly copyId: null | string
      /** In how many answers they wrote, and how many comments. */
      readonly answers: number
      readonly comments: number
      /** The student of the class who they are, as a teacher said. */
      readonly match: null | {
        readonly studentId: string
        readonly name: string
        readonly beside: boolean
        readonly at: number
      }
    }[]
    readonly students: readonly {
      readonly personId: string
      readonly first: string
      readonly last: string
      readonly has: readonly { readonly itemId: string; readonly own: null | OwnCopy; readonly hasWritten: boolean }[]
    }[]
  }
  'POST handouts/{handoutId}/hand-back': {
    readonly handedBack: number
    readonly students: number
    readonly at: null | number
  }
  'DELETE handouts/{handoutId}/hand-back/later': undefined
  'POST handouts/{handoutId}/hand-back/open-again': { readonly opened: number }
  'POST handouts/{handoutId}/hand-back/proof': {
    readonly fingerprint: string
    readonly lines: readonly {
      readonly mark: string
      readonly hasMail: boolean
      readonly copyId: string
      readonly personId: string
      /** As they are called in a message. */
      readonly first: string
      readonly name: string
      readonly title: string
      readonly worksheet: string
      readonly does: 'hand back' | 'hand back again' | 'not marked' | 'not submitted' | 'nothing new'
      /** As it was handed back before, in words; null: it was not. */
      readonly before: null | string
      readonly newRemarks: number
      readonly newPen: boolean
      readonly message: string
    }[]
    readonly later: null | { readonly at: number; readonly copies: number }
  }
  'POST handouts/{handoutId}/hand-back/withdraw': {
    readonly withdrawn: number
    readonly seen: readonly { readonly copyId: string; readonly title: string }[]
  }
  'GET handouts/{handoutId}/hand-out': RunSoFar
  'POST handouts/{handoutId}/hand-out': RunSoFar
  'POST handouts/{handoutId}/hand-out/retry': RunSoFar
  'POST handouts/{handoutId}/likeness': {
    /** How many were compared: of this handout, of others, and of those some whose answers could not be read in time. */
    readonly compared: { readonly own: number; readonly others: number; readonly unread: number }
    readonly pairs: readonly LikePair[]
    /** What the texts beside them are called. */
    readonly beside: readonly string[]
    readonly copies: readonly {
      readonly name: string
      readonly isOwn: boolean
      readonly copyId: string
      readonly class: string
      readonly year: string
      readonly handout: string
      readonly number: number
      readonly title: string
    }[]
    readonly texts: readonly {
      readonly id: string
      readonly parts: readonly { readonly question: string; readonly space: string; readonly text: string }[]
    }[]
  }
  'POST handouts/{handoutId}/likeness/came': (null | {
    /** Changes in which letters came, from the first to the last. */
    readonly changes: number
    /** When the first and the last of them came, in milliseconds since 1970. */
    readonly began: number
    readonly ended: number
    /** The most letters that came in one change, at once. */
    readonly largest: number
    /** Most of it was not there before one change, and all there after: brought in, not typed. */
    readonly inOnePiece: boolean
    readonly by: string
  })[]
  'PUT handouts/{handoutId}/looked/{copyId}': undefined
  'GET handouts/{handoutId}/marks': {
    readonly way: MarkingWay
    readonly mayMark: boolean
    readonly mayHandBack: boolean
    readonly copies: readonly {
      readonly own: { readonly [key: string]: MarkParts }
      readonly back: readonly { readonly personId: string; readonly at: number; readonly lookedAt: null | number }[]
      /** What those who read it a second time would give it, with the mark as it was then. */
      readonly readings: readonly {
        readonly total: null | number
        readonly step: null | string
        readonly personId: string
        readonly by: string
        readonly remark: string
        readonly at: number
        readonly first: { readonly total: null | number; readonly step: null | string; readonly by: string }
      }[]
      readonly holders: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
      readonly spaces: readonly MarkedSpace[]
      readonly daysLate: number
      readonly parts: MarkParts
      readonly mark: CopyMark
      readonly version: number
      /** Who changed it last, and when; null: nobody has marked it. */
      readonly changed: null | { readonly personId: string; readonly by: string; readonly at: number }
      readonly doneAt: null | number
      readonly worksheetId: string
      readonly title: string
      readonly copyId: string
      readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
      readonly dueAt: null | number
      readonly submittedAt: null | number
      /** The title of its worksheet. */
      readonly worksheet: string
      readonly edition: number
      /** The marking of its newest submission is done. */
      readonly isDone: boolean
      /** How many remarks on it were not handed back. */
      readonly newRemarks: number
      /** So of what the pen left. */
      readonly newPen: boolean
    }[]
  }
  'PUT handouts/{handoutId}/marks': {
    readonly copies: readonly {
      readonly holders: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
      readonly spaces: readonly MarkedSpace[]
      readonly daysLate: number
      readonly parts: MarkParts
      /** What of the mark is one holder's alone. */
      readonly own: { readonly [key: string]: MarkParts }
      readonly mark: CopyMark
      readonly version: number
      /** Who changed it last, and when; null: nobody has marked it. */
      readonly changed: null | { readonly personId: string; readonly by: string; readonly at: number }
      readonly doneAt: null | number
      readonly worksheetId: string
      readonly title: string
      readonly copyId: string
      readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
      readonly dueAt: null | number
      readonly submittedAt: null | number
      /** The title of its worksheet. */
      readonly worksheet: string
      readonly edition: number
      /** The marking of its newest submission is done. */
      readonly isDone: boolean
      /** How many remarks on it were not handed back. */
      readonly newRemarks: number
      /** So of what the pen left. */
      readonly newPen: boolean
    }[]
  }
  'POST handouts/{handoutId}/marks/proof': {
    readonly of: number
    readonly moved: readonly {
      readonly copyId: string
      readonly personId: null | string
      readonly before: CopyMark
      readonly after: CopyMark
      /** Parts with points that count no longer; they are kept, and count again when they are asked for again. */
      readonly uncounted: number
      /** It is done, and lacks something that the other way asks for. */
      readonly isOpenAgain: boolean
      readonly title: string
      readonly name: null | string
    }[]
  }
  'GET handouts/{handoutId}/mine': {
    readonly classId: string
    readonly title: string
    readonly board: boolean
    readonly others: readonly { readonly id: string; readonly title: string }[]
    readonly opensAt: null | number
    readonly copies: readonly {
      readonly id: string
      readonly title: string
      readonly way: string
      readonly opensAt: null | number
    }[]
  }
  'GET handouts/{handoutId}/over-time': {
    readonly states: {
      readonly 'not opened': readonly number[]
      readonly opened: readonly number[]
      readonly working: readonly number[]
      readonly 'taken back': readonly number[]
      readonly submitted: readonly number[]
      readonly marked: readonly number[]
      readonly 'handed back': readonly number[]
    }
    readonly written: readonly { readonly copyId: string; readonly changes: readonly number[] }[]
    readonly from: number
    readonly step: number
    readonly count: number
  }
  'GET handouts/{handoutId}/pens': {
    readonly by: string
    readonly undoneBy: null | string
    readonly id: string
    readonly act: 'down' | 'down later' | 'up'
    readonly minutes: null | number
    readonly at: number
    /** How many copies it changed. */
    readonly copies: number
    readonly undoneAt: null | number
  }[]
  'POST handouts/{handoutId}/pens': {
    readonly id: null | string
    readonly changes: readonly PensChange[]
    /** Copies that are so already. */
    readonly same: readonly string[]
    /** Copies whose pens stay down all the same, for their due time has passed. */
    readonly stayDown: readonly string[]
  }
  'POST handouts/{handoutId}/pens/{actId}/undo': PensUndo
  'PUT handouts/{handoutId}/readings/{copyId}': undefined
  'POST handouts/{handoutId}/reminders': { readonly sent: number; readonly passed: number }
  'POST handouts/{handoutId}/reminders/proof': {
    readonly goes: readonly {
      readonly personId: string
      readonly name: string
      readonly of: 'handed back' | 'message' | 'not begun' | 'not submitted' | 'overdue' | 'question answered'
    }[]
    readonly passed: readonly { readonly personId: string; readonly name: string; readonly why: NotReminded }[]
    readonly example: null | { readonly to: string; readonly subject: string; readonly text: string }
  }
  'POST handouts/{handoutId}/repeat': { readonly id: string; readonly number: number }
  'POST handouts/{handoutId}/single': RunSoFar
  'POST handouts/{handoutId}/single/proof': SingleProof
  'GET handouts/{handoutId}/students': {
    readonly parts: readonly {
      readonly rows: readonly {
        readonly students: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
        readonly copyId: string
        readonly worksheetId: string
        readonly title: string
        readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
        readonly pensDown: boolean
        readonly answered: number
        readonly spaces: number
        readonly words: number
        readonly dueAt: null | number
        readonly submittedAt: null | number
      }[]
      readonly handoutId: string
      readonly classId: string
      readonly class: string
    }[]
    readonly sheets: readonly { readonly worksheetId: string; readonly title: string }[]
  }
  'POST handouts/{handoutId}/submitted': {
    readonly done: readonly string[]
    readonly passed: readonly { readonly copyId: string; readonly sentence: string }[]
  }
  'POST handouts/{handoutId}/take-back': RunSoFar
  'GET handouts/{handoutId}/undo': UndoProof
  'POST handouts/{handoutId}/undo': RunSoFar
  'GET handouts/{handoutId}/walk-ins': LinkOfItem[]
  'PUT handouts/{handoutId}/walk-ins/{itemId}': LinkOfItem[]
  'POST handouts/{handoutId}/walk-ins/{itemId}/clear': {
    readonly cleared: number
    readonly list: readonly LinkOfItem[]
  }
  'DELETE handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match': {
    readonly guests: readonly {
      readonly way: 'one each' | 'one per group' | 'one together' | 'to read' | null
      readonly own: null | OwnCopy
      readonly itemId: string
      readonly personId: string
      readonly name: string
      /** When they came first. */
      readonly cameAt: number
      /** The copy in which they are; null: it was taken back. */
      readonly copyId: null | string
      /** In how many answers they wrote, and how many comments. */
      readonly answers: number
      readonly comments: number
      /** The student of the class who they are, as a teacher said. */
      readonly match: null | {
        readonly studentId: string
        readonly name: string
        readonly beside: boolean
        readonly at: number
      }
    }[]
    readonly students: readonly {
      readonly personId: string
      readonly first: string
      readonly last: string
      readonly has: readonly { readonly itemId: string; readonly own: null | OwnCopy; readonly hasWritten: boolean }[]
    }[]
  }
  'POST handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match': {
    readonly guests: readonly {
      readonly way: 'one each' | 'one per group' | 'one together' | 'to read' | null
      readonly own: null | OwnCopy
      readonly itemId: string
      readonly personId: string
      readonly name: string
      /** When they came first. */
      readonly cameAt: number
      /** The copy in which they are; null: it was taken back. */
      readonly copyId: null | string
      /** In how many answers they wrote, and how many comments. */
      readonly answers: number
      readonly comments: number
      /** The student of the class who they are, as a teacher said. */
      readonly match: null | {
        readonly studentId: string
        readonly name: string
        readonly beside: boolean
        readonly at: number
      }
    }[]
    readonly students: readonly {
      readonly personId: string
      readonly first: string
      readonly last: string
      readonly has: readonly { readonly itemId: string; readonly own: null | OwnCopy; readonly hasWritten: boolean }[]
    }[]
  }
  'GET handouts/{handoutId}/writers': WriterIn[]
  'GET health': { readonly status: 'well' }
  'GET join/{code}': JoinFace
  'POST join/{code}': undefined
  'POST lists/read':
    | {
        readonly format: 'ODS' | 'XLSX' | 'text'
        /** What could not be carried over, a sentence each. */
        readonly notes: readonly string[]
        readonly kind: 'tables'
        readonly tables: readonly {
          readonly name: string
          readonly rows: readonly (readonly string[])[]
          readonly count: number
        }[]
        readonly id?: string
      }
    | {
        readonly kind: 'bundle'
        readonly school: string
        readonly classes: readonly BundleClass[]
        /** What could not be carried over, a sentence each. */
        readonly notes: readonly string[]
        readonly id?: string
      }
  'GET mail/stand-in': KeptMail[]
  'DELETE office/different/{oneId}/{twoId}': undefined
  'PUT office/different/{oneId}/{twoId}': undefined
  'GET office/doubles': PossibleDoubles
  'POST office/merge': { readonly classes: number; readonly copies: number }
  'GET office/people': PeoplePage
  'POST office/people': { readonly personId: string }
  'PUT office/people/{personId}': undefined
  'POST office/people/{personId}/reset': { readonly card: null | SignInCard }
  'GET office/scales': {
    readonly name: string
    readonly id: string
    /** Null: the school's. */
    readonly classId: null | string
    /** From how many per cent each is reached; null: given by hand. */
    readonly from: null | readonly number[]
    /** Best first. */
    readonly steps: readonly string[]
  }[]
  'DELETE office/scales/{scaleId}': undefined
  'PUT office/scales/{scaleId}': undefined
  'GET office/sign-in-trouble': TroubledSignIn[]
  'GET people/{personId}': {
    readonly person: {
      readonly canSignIn: boolean
      /** Their number in the school, as it was typed. */
      readonly number: null | string
      /** What they are in the school; in a class they have a role of their own. */
      readonly role: SchoolRole
      /** May be empty where somebody has one name. */
      readonly first: string
      /** May be empty where somebody has one name. */
      readonly last: string
      /** As it was typed; null: none is known. */
      readonly email: null | string
      readonly personId: string
    }
    readonly classes: readonly ClassOfPerson[]
    readonly groups: readonly GroupOfPerson[]
    readonly copies: readonly {
      readonly number: number
      readonly handout: string
      /** The mark of it that counts; null: its marking is not done. */
      readonly mark: null | {
        /** What counts: typed, or the sum less what late work loses, never below 0. */
        readonly total: null | number
        /** Out of how many; null: not marked by points. */
        readonly most: null | number
        readonly step: null | string
        readonly excused: boolean
      }
      readonly title: string
      readonly setAside: boolean
      readonly id: string
      readonly classId: string
      readonly state: 'handed back' | 'marked' | 'not opened' | 'opened' | 'submitted' | 'taken back' | 'working'
      readonly pensDown: boolean
      readonly answered: number
      readonly words: number
      readonly dueAt: null | number
      readonly submittedAt: null | number
      readonly handoutId: string
      readonly lastActivityAt: null | number
      readonly spaces: number
    }[]
  }
  'GET recipes': { readonly id: string; readonly name: string; readonly statement: Statement }[]
  'POST recipes': { readonly id: string; readonly name: string; readonly statement: Statement }[]
  'DELETE recipes/{recipeId}': undefined
  'GET rubrics': RubricListed[]
  'DELETE rubrics/{rubricId}': undefined
  'GET rubrics/{rubricId}': { readonly name: string; readonly rows: readonly RubricRow[]; readonly shared: boolean }
  'PUT rubrics/{rubricId}': undefined
  'GET saved-copies': {
    readonly total: number
    readonly failed: readonly { readonly name: string; readonly why: string }[]
    /** Until when it can be fetched; null: it is not done. */
    readonly until: null | number
    readonly title: string
    readonly id: string
    /** Of all files, in bytes. */
    readonly size: number
    /** How many of the copies have been gone through. */
    readonly done: number
    readonly format: 'docx' | 'html' | 'odt' | 'pdf'
    readonly begunAt: number
    /** Null: not yet. */
    readonly finishedAt: null | number
  }[]
  'POST saved-copies': { readonly id: string; readonly total: number }
  'DELETE saved-copies/{savedId}': undefined
  'DELETE session': undefined
  'GET session': { readonly person: null | PersonSignedIn; readonly demo?: DemoPeople }
  'POST session': undefined
  'GET sign-ups': SignUpListed[]
  'GET sign-ups/{setId}': SignUp
  'POST sign-ups/{setId}': SignUp
  'GET stock-remarks': {
    readonly id: string
    readonly text: string
    /** By which it is called up. */
    readonly short: string
  }[]
  'GET stock-remarks/uses': { readonly id: string; readonly copies: number; readonly handedBack: number }[]
  'DELETE stock-remarks/{remarkId}': undefined
  'PUT stock-remarks/{remarkId}': { readonly changed: number; readonly failed: number }
  'GET to-keep': KeptRow[]
  'POST to-keep': { readonly actId: string; readonly copies: number; readonly students: number }
  'DELETE to-keep/acts/{actId}': { readonly taken: number; readonly opened: number }
  'POST to-keep/proof': {
    readonly fingerprint: string
    readonly lines: readonly {
      readonly names: readonly string[]
      readonly copyId: string
      readonly handoutId: string
      readonly number: number
      readonly handout: string
      readonly worksheet: string
      readonly is: 'given' | 'given before' | 'no student' | 'not begun' | 'not submitted'
    }[]
  }
  'POST to-keep/{keptId}/copy': { readonly copyId: string }
  'GET tokens': {
    /** What it is for, as its owner calls it. */
    readonly name: string
    readonly id: string
    readonly endsAt: number
    readonly madeAt: number
    readonly scopes: readonly ('copies' | 'hand out' | 'read' | 'rosters' | 'worksheets')[]
    /** When it was used last, to the minute; null: never. */
    readonly usedAt: null | number
  }[]
  'POST tokens': { readonly id: string; readonly token: string }
  'DELETE tokens/{tokenId}': undefined
  'GET walk-in/{code}': { readonly class: string; readonly title: string; readonly permission: GuestPermission }
  'POST walk-in/{code}': { readonly copyId: null | string }
  'GET webhooks': {
    readonly id: string
    readonly madeAt: number
    /** Of what it is told. */
    readonly kinds: readonly (
      | 'brought back'
      | 'handed back'
      | 'handed out'
      | 'marked'
      | 'opened'
      | 'pens down'
      | 'pens up'
      | 'set aside'
      | 'submitted'
      | 'taken back'
    )[]
    readonly address: string
    /** Times in a row that it did not take what was sent. */
    readonly failures: number
    /** When something was sent last; null: never. */
    readonly lastAt: null | number
    /** Why it did not take it, the last time; null: it did. */
    readonly problem: null | string
    /** When it was given up; null: it is not. */
    readonly stoppedAt: null | number
    /** When it is looked for events next. */
    readonly nextAt: number
  }[]
  'POST webhooks': { readonly id: string; readonly secret: string }
  'DELETE webhooks/{webhookId}': undefined
  'POST webhooks/{webhookId}/again': undefined
  'GET worksheets': WorksheetListed[]
  'POST worksheets': { readonly id: string }
  'POST worksheets/archive': { readonly changed: number }
  'GET worksheets/find': { readonly ids: readonly string[] }
  'POST worksheets/move': { readonly moved: number }
  'POST worksheets/pin': undefined
  'POST worksheets/rename': undefined
  'GET worksheets/{worksheetId}': {
    readonly id: string
    readonly title: string
    readonly draft: WorksheetContent
    readonly version: number
    readonly keptVersion: null | number
    readonly updatedAt: number
    readonly isOwner: boolean
    readonly mayChange: boolean
    readonly archived: boolean
    readonly editions: readonly EditionListed[]
  }
  'PUT worksheets/{worksheetId}/draft': { readonly version: number; readonly updatedAt: number }
  'POST worksheets/{worksheetId}/duplicate': { readonly id: string }
  'POST worksheets/{worksheetId}/editions': { readonly number: number; readonly isNew: boolean }
  'GET worksheets/{worksheetId}/editions/{number}': {
    readonly number: number
    readonly title: string
    readonly content: WorksheetContent
    readonly keptAt: number
  }
  'GET worksheets/{worksheetId}/first-page': {
    readonly title: string
    readonly content: {
      readonly blocks: readonly Block[]
      /** Of this format, so that older editions can be read for ever. */
      readonly version: 2
      readonly page: PageSize
      /** Where the sheet came from: in small print on every page of it; empty if the author made it. */
      readonly source: string
      /** BCP 47 tag; not there: as its print reads. */
      readonly language?: string
      /** Not there: browsers help with spelling. */
      readonly spelling?: false
    }
  }
  'GET worksheets/{worksheetId}/handouts': HandedOut[]
  'POST worksheets/{worksheetId}/media': Medium
  'GET worksheets/{worksheetId}/shares': {
    readonly schoolMay: 'edit' | 'none' | 'view'
    readonly people: readonly Colleague[]
  }
  'PUT worksheets/{worksheetId}/shares': undefined
}

/** What is sent to each address. */
export interface Bodies {
  'POST account/forgotten': ForgottenDto
  'POST account/link': LinkDto
  'PUT account/password': ChangePasswordDto
  'POST account/password-by-link': PasswordByLinkDto
  'POST bring-in/{bringInId}/finish': FinishDto
  'PUT bring-in/{bringInId}/work': PhotoWorkDto
  'POST classes': ClassDto
  'PUT classes/{classId}': ClassDto
  'POST classes/{classId}/carry': CarryDto
  'POST classes/{classId}/columns': NewColumnDto
  'PUT classes/{classId}/columns/{columnId}': ColumnDto
  'PUT classes/{classId}/extra-time': ExtraTimesDto
  'POST classes/{classId}/group-sets': NewSetDto
  'POST classes/{classId}/handouts': BeginHandoutDto
  'POST classes/{classId}/invitations': SomePeopleDto
  'PUT classes/{classId}/join': JoinTimesDto
  'POST classes/{classId}/join/decide': DecideDto
  'POST classes/{classId}/mail/again': SomeMessagesDto
  'PUT classes/{classId}/mark-book/columns/{columnId}': MarkColumnDto
  'PUT classes/{classId}/mark-book/columns/{columnId}/marks': PaperMarksDto
  'POST classes/{classId}/mark-book/columns/{columnId}/remove': WithMarksDto
  'PUT classes/{classId}/mark-book/notes/{personId}': StudentNoteDto
  'PUT classes/{classId}/mark-book/rules': MarkBookRulesDto
  'POST classes/{classId}/overview/out/{format}': OverviewOutDto
  'PATCH classes/{classId}/roster': CellEditsDto
  'POST classes/{classId}/roster': SaveRosterDto
  'POST classes/{classId}/roster/from': BringFromDto
  'POST classes/{classId}/roster/leave': PeopleDto
  'POST classes/{classId}/roster/out/{format}': SomePeopleDto
  'POST classes/{classId}/roster/return': PeopleDto
  'PUT classes/{classId}/rules': RulesDto
  'PUT classes/{classId}/scales/{scaleId}': KeptScaleDto
  'PUT classes/{classId}/shelf': ShelfDto
  'POST classes/{classId}/sign-in-cards': SomePeopleDto
  'POST classes/{classId}/staff': AddStaffDto
  'PUT classes/{classId}/staff/{personId}': StaffPlaceDto
  'PUT classes/{classId}/units': UnitsDto
  'PUT copies/{copyId}/comments/{commentId}': CommentDto
  'PUT copies/{copyId}/documents/{fileId}': DocumentDto
  'POST copies/{copyId}/history/bring-back': BringBackDto
  'PUT copies/{copyId}/invited/{personId}': InviteDto
  'POST copies/{copyId}/late-writing': LateDecisionDto
  'PUT copies/{copyId}/pen/{markId}': PenMarkDto
  'PUT copies/{copyId}/reading': ReadDto
  'PUT copies/{copyId}/threads/{threadId}': DoneDto
  'POST desk/questions/answer': AnswerAllDto
  'POST folders': FolderDto
  'PUT folders/{folderId}': FolderDto
  'PUT group-sets/{setId}': ChangeSetDto
  'PUT group-sets/{setId}/arrangement': ArrangeDto
  'POST group-sets/{setId}/different': TellApartDto
  'POST group-sets/{setId}/moves': MoveDto
  'PUT handouts/{handoutId}': KeepHandoutDto
  'PUT handouts/{handoutId}/answers/{worksheetId}/{space}/accepted': AcceptDto
  'POST handouts/{handoutId}/answers/{worksheetId}/{space}/accepted/proof': AcceptedDto
  'POST handouts/{handoutId}/board/out/{format}': BoardOutDto
  'POST handouts/{handoutId}/comments': SayOfAllDto
  'POST handouts/{handoutId}/comments/take-back': SaidOfDto
  'POST handouts/{handoutId}/due': DueDto
  'POST handouts/{handoutId}/give': GiveDto
  'POST handouts/{handoutId}/hand-back': HandBackNowDto
  'POST handouts/{handoutId}/hand-back/open-again': CopiesDto
  'POST handouts/{handoutId}/hand-back/proof': HandBackDto
  'POST handouts/{handoutId}/hand-back/withdraw': CopiesDto
  'POST handouts/{handoutId}/hand-out': HandOutDto
  'POST handouts/{handoutId}/hand-out/retry': RetryDto
  'POST handouts/{handoutId}/likeness': LikenessDto
  'POST handouts/{handoutId}/likeness/came': CameInDto
  'PUT handouts/{handoutId}/marks': MarkWishesDto
  'POST handouts/{handoutId}/marks/proof': OtherWayDto
  'POST handouts/{handoutId}/pens': MovePensDto
  'PUT handouts/{handoutId}/readings/{copyId}': ReadingDto
  'POST handouts/{handoutId}/reminders': RemindersDto
  'POST handouts/{handoutId}/reminders/proof': RemindersDto
  'POST handouts/{handoutId}/repeat': RepeatDto
  'POST handouts/{handoutId}/single': SingleDto
  'POST handouts/{handoutId}/single/proof': SingleDto
  'POST handouts/{handoutId}/submitted': SubmittedDto
  'POST handouts/{handoutId}/take-back': TakeBackDto
  'POST handouts/{handoutId}/undo': UndoDto
  'PUT handouts/{handoutId}/walk-ins/{itemId}': WalkInDto
  'POST handouts/{handoutId}/walk-ins/{itemId}/clear': ClearGuestsDto
  'POST handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match': MatchDto
  'POST join/{code}': AskDto
  'POST office/merge': MergeDto
  'POST office/people': PersonDto
  'PUT office/people/{personId}': PersonDto
  'POST office/people/{personId}/reset': ResetDto
  'PUT office/scales/{scaleId}': KeptScaleDto
  'POST recipes': RecipeDto
  'POST rubrics/out/{format}': RubricOutDto
  'PUT rubrics/{rubricId}': KeptRubricDto
  'POST saved-copies': SaveCopiesDto
  'POST session': SignInDto
  'POST sign-ups/{setId}': ChooseDto
  'PUT stock-remarks/{remarkId}': StockRemarkDto
  'POST to-keep': KeepDto
  'POST to-keep/proof': KeepProofDto
  'POST tokens': TokenDto
  'POST walk-in/{code}': EnterDto
  'POST webhooks': WebhookDto
  'POST worksheets': CreateWorksheetDto
  'POST worksheets/archive': ArchiveWorksheetsDto
  'POST worksheets/move': MoveWorksheetsDto
  'POST worksheets/pin': PinWorksheetsDto
  'POST worksheets/rename': RenameWorksheetsDto
  'PUT worksheets/{worksheetId}/draft': KeepDraftDto
  'POST worksheets/{worksheetId}/editions': KeepEditionDto
  'POST worksheets/{worksheetId}/out/{format}': WriteOutDto
  'PUT worksheets/{worksheetId}/shares': SharesDto
}
