import { foldText } from './names.js'

/**
 * What a column of a list holds. `full` is "Last, First" or "First Last" in one cell, `number` the student number;
 * `keep` stays as a column of the roster under its heading.
 */
export type ColumnRole = 'last' | 'first' | 'full' | 'email' | 'number' | 'keep' | 'unused'

/** The roles that only one column can have. */
export const SINGLE_ROLES: readonly ColumnRole[] = ['last', 'first', 'full', 'email', 'number']

// What schools call these columns, in some languages.
const HEADINGS: Record<Exclude<ColumnRole, 'unused' | 'keep'>, readonly string[]> = {
  last: [
    'last',
    'last name',
    'lastname',
    'surname',
    'family name',
    'familyname',
    'nachname',
    'familienname',
    'nom',
    'nom de famille',
    'apellido',
    'apellidos',
    'cognome',
    'sobrenome',
    'achternaam',
    'efternamn',
    'nazwisko',
    'фамилия',
  ],
  first: [
    'first',
    'first name',
    'firstname',
    'given name',
    'givenname',
    'forename',
    'christian name',
    'vorname',
    'prénom',
    'prenom',
    'nombre',
    'nome',
    'voornaam',
    'förnamn',
    'imię',
    'имя',
  ],
  full: [
    'name',
    'full name',
    'fullname',
    'student',
    'student name',
    'pupil',
    'learner',
    'schüler',
    'élève',
    'alumno',
    'alunno',
    'nom complet',
    'nombre completo',
    'nome completo',
    'nominativo',
    'naam',
    'namn',
    'фио',
  ],
  email: [
    'email',
    'e-mail',
    'mail',
    'email address',
    'e-mail address',
    'e mail',
    'correo',
    'correo electrónico',
    'courriel',
    'e-post',
    'почта',
    'username',
    'login',
  ],
  number: [
    'number',
    'id',
    'student number',
    'student no',
    'student id',
    'studentid',
    'pupil number',
    'pupil no',
    'pupil id',
    'admission number',
    'admission no',
    'id number',
    'school number',
    'schülernummer',
    'numéro élève',
    'numero de alumno',
    'elevnummer',
    'leerlingnummer',
  ],
}

// Whoever else stands in a list beside the students; the beginnings of words, or whole ones where they are short.
const OTHERS_BEGIN = [
  ...['parent', 'guardian', 'carer', 'mother', 'father', 'teacher', 'staff', 'emergency'],
  ...['eltern', 'mutter', 'vater', 'erziehungsberechtigt', 'sorgeberechtigt', 'lehrer', 'lehrkraft'],
  ...['mere', 'pere', 'tuteur', 'tutrice', 'responsab', 'responsav', 'enseignant'],
  ...['madre', 'padre', 'tutor', 'genitor', 'encarregad', 'apoderad'],
  ...['ouder', 'moeder', 'vader', 'verzorger', 'foralder', 'vardnadshavar', 'mamma', 'pappa'],
  ...['rodzic', 'matka', 'matki', 'ojciec', 'ojca', 'opiekun', 'родител', 'матер', 'опекун'],
]
const OTHERS = new Set([
  'mum',
  'mom',
  'dad',
  'mae',
  'pai',
  'mor',
  'far',
  'мать',
  'мама',
  'отец',
  'отца',
  'папа',
  'veli',
])
const STUDENT = new Set([
  ...['student', 'students', 'pupil', 'pupils', 'learner', 'child', 'own', 's'],
  ...['schuler', 'schulers', 'schulerin', 'eleve', 'alumno', 'alumna', 'alunno', 'alunna', 'aluno', 'aluna'],
  ...['leerling', 'elev', 'elevens', 'uczen', 'ucznia', 'ученик', 'ученика'],
])

const wordsOf = (heading: string) =>
  foldText(heading)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** Whether a heading speaks of somebody else than the student: a parent, a guardian, a teacher. */
export const isOfOthers = (heading: string): boolean =>
  wordsOf(heading).some((word) => OTHERS.has(word) || OTHERS_BEGIN.some((begin) => word.startsWith(begin)))

/** Whether a heading says that it speaks of the student. */
export const isOfStudent = (heading: string): boolean =>
  !isOfOthers(heading) && wordsOf(heading).some((word) => word !== 's' && STUDENT.has(word))

const ROLES = ['email', 'last', 'first', 'full', 'number'] as const
// As they are written, and without the marks that some leave out.
const KNOWN = new Map(
  ROLES.toReversed().flatMap((role) => HEADINGS[role].map((words) => [wordsOf(words).join(' '), role])),
)

const LAST = new Set([
  ...['last', 'surname', 'family', 'nachname', 'familienname', 'nom', 'apellido', 'apellidos', 'cognome', 'sobrenome'],
  ...['achternaam', 'efternamn', 'nazwisko', 'фамилия'],
])
const FIRST = new Set([
  ...[
    'first',
    'given',
    'forename',
    'forenames',
    'vorname',
    'prenom',
    'prenoms',
    'nombre',
    'nombres',
    'nome',
    'voornaam',
  ],
  ...['fornamn', 'imie', 'имя'],
])

/** Which way whole names stand that are headed so ("Surname, first name"); null where the heading names not both parts. */
export function wholeNameWay(heading: string): 'first last' | 'last first' | null {
  const words = wordsOf(heading)
  const first = words.findIndex((word) => FIRST.has(word))
  const last = words.findIndex((word) => LAST.has(word) || (word === 'name' && words[first] === 'vorname'))
  return first < 0 || last < 0 ? null : first < last ? 'first last' : 'last first'
}

/** What a heading says its column holds; `unused` also for what it says of others than the student. */
export function roleOfHeading(cell: string): ColumnRole {
  if (isOfOthers(cell)) return 'unused'
  const words = wordsOf(cell)
  const own = words.filter((word) => !STUDENT.has(word))
  return KNOWN.get(words.join(' ')) ?? KNOWN.get(own.join(' ')) ?? (wholeNameWay(cell) ? 'full' : 'unused')
}
