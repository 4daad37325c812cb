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

/** What a heading says its column holds. */
export function roleOfHeading(cell: string): ColumnRole {
  const word = foldText(cell)
    .replace(/[_.:*]+/g, ' ')
    .trim()
  for (const role of ['email', 'last', 'first', 'full', 'number'] as const)
    if (HEADINGS[role].includes(word)) return role
  return 'unused'
}
