import {
  type RubricLevel,
  type RubricRow,
  type Statement,
  plainItem,
  plainStatement,
  type Viewer,
  emailKey,
  mapMedia,
} from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { DataSource, Not, IsNull } from 'typeorm'
import { hashPassword } from '../account/signIn.service.js'
import { GroupService } from '../group/group.service.js'
import { HandoutService } from '../handout/handout.service.js'
import { JoinService } from '../join/join.service.js'
import { OfficeService } from '../people/office.service.js'
import { ClassService } from '../roster/class.service.js'
import { RosterService } from '../roster/roster.service.js'
import { studentsOf } from '../roster/students.js'
import { addPicture } from '../media/mediaStore.js'
import { LibraryService } from '../worksheet/library.service.js'
import { WorksheetService } from '../worksheet/worksheet.service.js'
import { giveInThePast } from './demo.queries.js'
import { giveEveryWay, handOutDemo } from './everyWay.js'
import { DAY, type DemoWork, HOUR, dueIn, opened, submitted, takenBack, untouched, workIn, working } from './work.js'
import { studentsComeAsGuests } from './guests.js'
import { askTheSame } from './said.js'
import { PLAIN_FOLDERS, RICH_WORKSHEETS } from './richWorksheets.js'
import {
  BANDS,
  DEMO_CLASSES,
  DEMO_OFFICE,
  DEMO_PASSWORD,
  DEMO_SCHOOL_ID,
  DEMO_STAFF,
  type DemoGroups,
  HARBOUR_TRADES,
  MAIL_HOST,
  SURVEY_CREWS,
  type StaffKey,
  TUTORS,
} from './school.js'
import { DEMO_WORKSHEETS, type DemoWorksheet } from './worksheets.js'
import { inSchool } from '../database/inSchool.js'
import { ClassMember, Person, School } from '../access/access.entity.js'
import { keepDemo, keepLibrary, keepStock, markDemo } from './marked.js'
import { Handout } from '../slip/slip.entity.js'
import { KeptGroupSet } from '../group/group.entity.js'
import { KeptColumn } from '../roster/roster.entity.js'

/** The sample documents, which are the demo's too. */
const SAMPLES = new URL('../../../samples/worksheets/', import.meta.url)

/**
 * Loads the demo school into an empty database, by the same services that teachers and students use.
 * @returns false when a school is there already; nothing is touched then
 */
export async function loadDemoSchool(app: INestApplication): Promise<boolean> {
  const source = app.get(DataSource)
  if (await inSchool(source, DEMO_SCHOOL_ID).exists(Handout, { title: LAST_LOADED })) return false
  if (await source.manager.exists(School))
    throw new Error('The demo school was loaded only in part: start over with "npm run demo -- --fresh".')
  const now = Date.now()
  const staff = await makeStaff(source)
  const classes = await makeClasses(app, source, staff)
  await makeGroups(app, source, classes)
  // The same student twice, as a careless list brings them in: for the office to merge.
  await app.get(OfficeService).add(staff.get(DEMO_OFFICE)!, {
    first: 'Theo',
    last: 'Joubert',
    email: '',
    number: 'FQ-8310',
    role: 'student',
  })
  const worksheets = await makeWorksheets(app, staff)
  const rich = await fillLibrary(app, staff, worksheets)
  const give = (
    classKey: string,
    worksheet: DemoWorksheet['key'],
    title: string,
    { givenAt, dueAt, ...marked }: { readonly givenAt: number; readonly dueAt: number | null } & DemoMarking,
    workOf: ((index: number) => DemoWork) | null,
  ) =>
    giveOut(app, source, {
      viewer: classes.get(classKey)!.lead,
      classId: classes.get(classKey)!.id,
      worksheet: worksheets.get(worksheet)!,
      title,
      dueAt,
      workOf,
      givenAt,
      marked,
    })

  const walk = await give(
    'heron',
    'safety',
    'Before the harbour walk',
    { givenAt: now - 8 * DAY, dueAt: dueIn(-3, now), marking: { kind: 'points', points: 10 }, rubric: HARBOUR_WALK },
    (i) => (i % 9 === 4 ? working(0.5) : i % 11 === 7 ? untouched : submitted()),
  )
  const herons = {
    ...{ givenAt: now - 2 * DAY, dueAt: dueIn(1, now) },
    marking: { kind: 'spaces' },
    rubric: TIDES_RUBRIC,
    lateDeduction: { perDay: 10, atLeast: 50 },
  } as const
  const ofHeron = await give('heron', 'tides', 'Tides at the quay', herons, tidesWork)
  await askTheSame(app, ofHeron.id, now)
  const tides = await give(
    'tern',
    'tides',
    'Tides at the quay',
    { givenAt: now - HOUR, dueAt: dueIn(4, now) },
    () => untouched,
  )
  await studentsComeAsGuests(app, classes.get('tern')!, tides, now)
  const ropes = {
    ...{ givenAt: now - 6 * DAY, dueAt: dueIn(-1, now) },
    marking: { kind: 'points', points: 15 },
  } as const
  await give('dunlin', 'rope', 'Rope test', ropes, () => submitted())
  await giveEveryWay(
    app,
    classes,
    { glossary: worksheets.get('glossary')!.id, safety: worksheets.get('safety')!.id, rich },
    now,
  )
  const { lead } = classes.get('heron')!
  await keepStock(app, lead)
  await keepLibrary(app, lead, TIDES_RUBRIC)
  await markDemo(app, lead, walk.id, { most: 40, handBack: true })
  await keepDemo(app, lead, walk.id, 'Chidi Abara')
  await markDemo(app, lead, ofHeron.id, { most: 3, handBack: false })
  await source.transaction((tx) => giveInThePast(tx, DEMO_SCHOOL_ID))
  await give('heron', 'lighthouse', LAST_LOADED, { givenAt: now, dueAt: dueIn(6, now) }, null)
  return true
}

const LAST_LOADED = 'Lighthouse sectors'

const level = (id: string, points: number, name: string): RubricLevel => ({ id, points, name })

const HARBOUR_WALK: readonly RubricRow[] = [
  { id: 'safe', name: 'Knows what is safe', points: 7 },
  { id: 'first', name: 'Knows what comes first', points: 3 },
]

const TIDES_RUBRIC: readonly RubricRow[] = [
  {
    id: 'reasons',
    name: 'Reasons given',
    points: 3,
    levels: [
      level('r0', 0, 'No reason is given'),
      level('r1', 1, 'Says that it is so'),
      level('r2', 2, 'Says why, in one step'),
      level('r3', 3, 'Says why, from the table to the boat'),
    ],
  },
  {
    id: 'words',
    name: 'Sea words',
    points: 3,
    levels: [
      level('w0', 0, 'None'),
      level('w1', 1, 'One or two'),
      level('w2', 2, 'Most of those learned'),
      level('w3', 3, 'All of them, each in its place'),
    ],
  },
]

const TIDES = [
  0.45, 1, 0, 0.8, 0.45, 0.2, -1, 0.55, 1, -2, 0.6, 0.35, 0, 1, 0.5, 0.9, 1, 0.1, 0.65, 0.3, 1, 0.45, 0.75, -1, 1, 0.25,
  0.55, 1,
]

function tidesWork(index: number): DemoWork {
  const share = TIDES[index % TIDES.length]!
  if (share === 0) return untouched
  if (share === -1) return opened
  if (share === -2) return takenBack(0.9)
  // The first who submitted went on writing where there was no network.
  if (index === TIDES.indexOf(1)) return { ...submitted(), late: 'At noon there are only 0.9 m.' }
  return share === 1 ? submitted() : working(share)
}

async function makeStaff(source: DataSource): Promise<Map<StaffKey, Viewer>> {
  await source.manager.insert(School, {
    id: DEMO_SCHOOL_ID,
    name: 'Fennick Quay School',
    // Whoever tries it sits at this machine.
    timeZone: new Intl.DateTimeFormat().resolvedOptions().timeZone,
    locale: 'en-GB',
  })
  const password = await hashPassword(DEMO_PASSWORD)
  const staff = new Map<StaffKey, Viewer>()
  for (const { key, first, last } of DEMO_STAFF) {
    const role = key === DEMO_OFFICE ? 'office' : 'teacher'
    const viewer: Viewer = { schoolId: DEMO_SCHOOL_ID, personId: randomUUID(), role }
    const email = `${key}@${MAIL_HOST}`
    await inSchool(source, DEMO_SCHOOL_ID).insert(Person, {
      id: viewer.personId,
      role,
      first,
      last,
      email,
      emailKey: emailKey(email),
      passwordHash: password,
    })
    staff.set(key, viewer)
  }
  return staff
}

async function makeClasses(app: INestApplication, source: DataSource, staff: ReadonlyMap<StaffKey, Viewer>) {
  const rosters = app.get(RosterService)
  const classService = app.get(ClassService)
  const password = await hashPassword(DEMO_PASSWORD)
  const made = new Map<string, { id: string; lead: Viewer }>()
  for (const [at, { key, name, subject, ink, lead: leadKey, helpers, units, students }] of DEMO_CLASSES.entries()) {
    const lead = staff.get(leadKey)!
    const { id } = await classService.create(lead, { name, subject, year: '2026/27', ink })
    for (const helper of helpers)
      await inSchool(source, DEMO_SCHOOL_ID).insert(ClassMember, {
        classId: id,
        personId: staff.get(helper)!.personId,
        role: 'helper',
      })
    await classService.keepUnits(
      lead,
      id,
      units.map((unit) => ({ name: unit })),
    )
    const rows = students.map(([last, first, mailbox], place) => ({
      last,
      first,
      email: mailbox && `${mailbox}@${MAIL_HOST}`,
      number: `FQ-${8 - at}${String(place + 101)}`,
      cells: { 'Reading band': BANDS[place % BANDS.length]!, Tutor: TUTORS[(place * 5 + at) % TUTORS.length]! },
    }))
    await rosters.save(lead, id, rows)
    made.set(key, { id, lead })
  }
  // One password for all of the demo; a school's students get their own.
  await inSchool(source, DEMO_SCHOOL_ID).update(
    Person,
    { role: 'student', email: Not(IsNull()) },
    { passwordHash: password },
  )
  return made
}

/** Groups as a sign-up sheet left them, groups that students sign up for, and two who ask to be let into a class. */
async function makeGroups(
  app: INestApplication,
  source: DataSource,
  classes: ReadonlyMap<string, { id: string; lead: Viewer }>,
): Promise<void> {
  const groups = app.get(GroupService)
  const make = async (classKey: string, set: DemoGroups) => {
    const { id, lead } = classes.get(classKey)!
    const students = await studentsOf(source, DEMO_SCHOOL_ID, id)
    return groups.create(lead, id, {
      name: set.name,
      balanceColumn: null,
      arrangement: {
        groups: set.groups.map(([name, places, members]) => ({
          id: randomUUID(),
          name,
          places,
          personIds: members.map((place) => students[place]!.personId),
        })),
        locked: [],
        pairs: [{ a: students[7]!.personId, b: students[14]!.personId, kind: 'apart' }],
      },
    })
  }
  const { id: crews } = await make('heron', SURVEY_CREWS)
  const [bands] = await inSchool(source, DEMO_SCHOOL_ID).find(
    KeptColumn,
    { classId: classes.get('heron')!.id, name: 'Reading band' },
    { select: ['id'] },
  )
  await inSchool(source, DEMO_SCHOOL_ID).update(KeptGroupSet, { id: crews }, { balanceColumn: bands?.id ?? null })
  const { id: trades } = await make('tern', HARBOUR_TRADES)
  await groups.change(classes.get('tern')!.lead, trades, {
    name: HARBOUR_TRADES.name,
    balanceColumn: null,
    places: [],
    signUp: { open: true, opensAt: null, closesAt: dueIn(5, Date.now()) },
  })
  const joins = app.get(JoinService)
  const { id: heron, lead } = classes.get('heron')!
  await joins.keep(lead, heron, { open: true, opensAt: null, closesAt: dueIn(7, Date.now()) })
  const { code } = await joins.page(lead, heron)
  for (const [first, last, mailbox] of [
    ['Zofia', 'Dabrowska', 'zosia.d'],
    ['Signe', 'Halvorsen', 'signe.halvorsen'],
  ] as const)
    await joins.ask(code, { first, last, email: `${mailbox}@${MAIL_HOST}` }, '127.0.0.1')
}

async function makeWorksheets(app: INestApplication, staff: ReadonlyMap<StaffKey, Viewer>) {
  const service = app.get(WorksheetService)
  const made = new Map<DemoWorksheet['key'], { id: string; title: string }>()
  for (const { key, title, owner, content } of DEMO_WORKSHEETS) {
    const viewer = staff.get(owner)!
    const { id } = await service.create(viewer, title)
    const { version } = await service.keepDraft(viewer, id, { title, content, version: 1 })
    await service.keepEdition(viewer, id, version)
    made.set(key, { id, title })
  }
  return made
}

/** Worksheets that show what there is, and the folders that all of them lie in. */
async function fillLibrary(
  app: INestApplication,
  staff: ReadonlyMap<StaffKey, Viewer>,
  plain: ReadonlyMap<DemoWorksheet['key'], { id: string; title: string }>,
): Promise<ReadonlyMap<string, string>> {
  const service = app.get(WorksheetService)
  const library = app.get(LibraryService)
  const folders = new Map<string, string>()
  const made = new Map<string, string>()
  const put = async (owner: StaffKey, folder: string, id: string) => {
    const viewer = staff.get(owner)!
    const key = `${owner} ${folder}`
    if (!folders.has(key)) folders.set(key, (await library.addFolder(viewer, folder, null)).id)
    await library.move(viewer, [id], folders.get(key)!)
  }
  for (const { key, title, owner } of DEMO_WORKSHEETS) {
    const folder = PLAIN_FOLDERS[title]
    if (folder) await put(owner, folder, plain.get(key)!.id)
  }
  for (const { title, owner, folder, editions, picture, pinned, schoolMay } of RICH_WORKSHEETS) {
    const viewer = staff.get(owner)!
    const { id } = await service.create(viewer, title)
    made.set(title, id)
    const medium = picture
      ? await addPicture(app.get(DataSource), viewer, await readFile(new URL(picture, SAMPLES)), {
          worksheetId: id,
        })
      : null
    let version = 1
    for (const edition of editions) {
      const content = medium ? mapMedia(edition, (media) => (media === 'picture' ? medium.id : undefined)) : edition
      version = (await service.keepDraft(viewer, id, { title, content, version })).version
      await service.keepEdition(viewer, id, version)
    }
    await put(owner, folder, id)
    if (pinned) await library.pin(viewer, [id], true)
    if (schoolMay) await library.share(viewer, id, { schoolMay, people: [] })
  }
  return made
}

/** What handouts are about. */
const UNITS_OF_DEMO: Readonly<Record<string, string>> = {
  'Before the harbour walk': 'Maps and scale',
  'Lighthouse sectors': 'Maps and scale',
  'Tides at the quay': 'Tides and harbours',
}

/** How copies are marked. */
type DemoMarking = Partial<Pick<Statement, 'marking' | 'rubric' | 'lateDeduction'>>

async function giveOut(
  app: INestApplication,
  source: DataSource,
  given: {
    viewer: Viewer
    classId: string
    worksheet: { id: string }
    title: string
    dueAt: number | null
    /** Null: a draft, not handed out. */
    workOf: ((index: number) => DemoWork) | null
    givenAt: number
    marked?: DemoMarking
  },
): Promise<{ id: string; itemId: string }> {
  const { viewer, classId, title, dueAt, workOf, givenAt } = given
  const itemId = 'first'
  const unit = UNITS_OF_DEMO[title]
  const statement = {
    ...plainStatement([plainItem(itemId, given.worksheet.id, 1)], [{ classId, opensAt: null, dueAt }]),
    unit: unit ? { id: null, name: unit } : null,
    ...given.marked,
  }
  if (!workOf) return { id: (await app.get(HandoutService).create(viewer, classId, { title, statement })).id, itemId }
  const id = await handOutDemo(app, { id: classId, lead: viewer }, title, statement, givenAt)
  await workIn(source, id, workOf, givenAt, dueAt ?? Date.now())
  return { id, itemId }
}
