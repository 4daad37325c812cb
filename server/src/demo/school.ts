// Fennick Quay School, in a harbour town that does not exist. All names are made up.

export const DEMO_SCHOOL_ID = '0f1c5c1e-5e7a-4b0a-9d57-71de00000001'
export const DEMO_PASSWORD = 'harbour-wall-26'
export const MAIL_HOST = 'fennickquay.example'

export const DEMO_STAFF = [
  { key: 'okonjo', first: 'Adaeze', last: 'Okonjo-Reyes' },
  { key: 'adeyemi', first: 'Tomasz', last: 'Adeyemi-Falk' },
  { key: 'sandvik', first: 'Birgit', last: 'Sandvik' },
  { key: 'ferreira', first: 'Joana', last: 'Ferreira-Lund' },
] as const

/** Who of the staff is the school’s office. */
export const DEMO_OFFICE: StaffKey = 'ferreira'

export type StaffKey = (typeof DEMO_STAFF)[number]['key']

/** Last name, first name, the part of the e-mail before the "@" ("" for none yet). */
export type DemoStudent = readonly [last: string, first: string, mailbox: string]

export interface DemoClass {
  readonly key: 'heron' | 'tern' | 'dunlin'
  readonly name: string
  readonly subject: string
  readonly ink: string
  readonly lead: StaffKey
  readonly helpers: readonly StaffKey[]
  readonly units: readonly string[]
  readonly students: readonly DemoStudent[]
}

export const DEMO_CLASSES: readonly DemoClass[] = [
  {
    key: 'heron',
    name: '8 Heron',
    subject: 'Geography',
    ink: 'deep blue',
    lead: 'okonjo',
    helpers: ['adeyemi'],
    units: ['Maps and scale', 'Tides and harbours', 'Rivers to the sea'],
    students: [
      ['Abara', 'Chidi', 'chidi.abara'],
      ['Al-Masri', 'Rania', 'rania.almasri'],
      ['Brandvold', 'Ingrid', 'ingrid.brandvold'],
      ['Castellanos Ruiz', 'Mateo', ''],
      ['Dąbrowska', 'Zofia', 'zofia.dabrowska'],
      ['Ekwueme', 'Ifeoma', 'ifeoma.ekwueme'],
      ['Faraji', 'Soraya', 'soraya.faraji'],
      ['Hatoyama', 'Ren', 'ren.hatoyama'],
      ['Ibáñez', 'Lucía', 'lucia.ibanez'],
      ['Joubert', 'Théo', 'theo.joubert'],
      ['Kamakau', 'Noa', 'noa.kamakau'],
      ['Lindqvist', 'Elsa', 'elsa.lindqvist'],
      ['Mbeki-Jones', 'Thandi', 'thandi.mbeki'],
      ['Nguyễn', 'Minh Anh', 'minhanh.nguyen'],
      ['O’Hara', 'Finn', 'finn.ohara'],
      ['Petrov', 'Даниил', 'daniil.petrov'],
      ['Qureshi', 'Zayd', 'zayd.qureshi'],
      ['Rossi', 'Giulia', 'giulia.rossi'],
      ['Sørensen', 'Aksel', 'aksel.sorensen'],
      ['', 'Suryani', 'suryani'],
      ['Şahin', 'Elif', 'elif.sahin'],
      ['Tamihana', 'Aroha', 'aroha.tamihana'],
      ['Uyanga', 'Bat-Erdene', 'baterdene.uyanga'],
      ['van der Meer', 'Saskia', 'saskia.vandermeer'],
      ['Wójcik', 'Jan', 'jan.wojcik'],
      ['Yilmaz-Brandt', 'Deniz', 'deniz.yilmaz'],
      ['حداد', 'ليلى', 'layla.haddad'],
      ['לוי', 'נועם', 'noam.levi'],
    ],
  },
  {
    key: 'tern',
    name: '8 Tern',
    subject: 'Geography',
    ink: 'forest',
    lead: 'okonjo',
    helpers: [],
    units: ['Maps and scale', 'Tides and harbours'],
    students: [
      ['Achterberg', 'Joost', 'joost.achterberg'],
      ['Bekele', 'Hanna', 'hanna.bekele'],
      ['Calloway', 'Pip', 'pip.calloway'],
      ['Dlamini', 'Sipho', 'sipho.dlamini'],
      ['Eriksen', 'Tuva', 'tuva.eriksen'],
      ['Fonseca', 'Inês', 'ines.fonseca'],
      ['García Lorca', 'Álvaro', 'alvaro.garcia'],
      ['Hosseini', 'Darya', 'darya.hosseini'],
      ['Ivanova', 'Mila', 'mila.ivanova'],
      ['Jónsdóttir', 'Katrín', 'katrin.jonsdottir'],
      ['Kowalska', 'Maja', 'maja.kowalska'],
      ['Larsen', 'Emil', 'emil.larsen'],
      ['Lin', 'Yu-Ting', 'yuting.lin'],
      ['Moreau', 'Camille', 'camille.moreau'],
      ['Nakamura', 'Sora', 'sora.nakamura'],
      ['Okafor', 'Ebele', 'ebele.okafor'],
      ['Papadaki', 'Eleni', 'eleni.papadaki'],
      ['Quispe', 'Inti', 'inti.quispe'],
      ['Rahman', 'Tasnim', 'tasnim.rahman'],
      ['Schäfer', 'Jonas', 'jonas.schaefer'],
      ['Tupou', 'Vaiana', 'vaiana.tupou'],
      ['Ueda', 'Haruki', 'haruki.ueda'],
      ['Vasquez', 'Luz', 'luz.vasquez'],
      ['Wanjiru', 'Njeri', 'njeri.wanjiru'],
      ['Żak', 'Olek', 'olek.zak'],
      ['陳', '美玲', 'meiling.chen'],
    ],
  },
  {
    key: 'dunlin',
    name: '7 Dunlin',
    subject: 'Science',
    ink: 'plum',
    lead: 'sandvik',
    helpers: ['okonjo'],
    units: ['Materials', 'Forces at work'],
    students: [
      ['Amankwah', 'Kofi', 'kofi.amankwah'],
      ['Bianchi', 'Nina', 'nina.bianchi'],
      ['Çelik', 'Arda', 'arda.celik'],
      ['Delacroix', 'Anouk', 'anouk.delacroix'],
      ['El-Sayed', 'Omar', 'omar.elsayed'],
      ['Fraser', 'Isla', 'isla.fraser'],
      ['Gómez', 'Tomás', 'tomas.gomez'],
      ['Haddow', 'Wren', 'wren.haddow'],
      ['Isaksen', 'Liv', 'liv.isaksen'],
      ['Jabari', 'Amani', 'amani.jabari'],
      ['Kaur', 'Simran', 'simran.kaur'],
      ['Łuczak', 'Antoni', 'antoni.luczak'],
      ['Mensah', 'Abena', 'abena.mensah'],
      ['Novák', 'Tereza', 'tereza.novak'],
      ['Ó Briain', 'Cillian', 'cillian.obriain'],
      ['Pereira', 'Duarte', 'duarte.pereira'],
      ['Reyes', 'Luna', 'luna.reyes'],
      ['Sato', 'Mei', 'mei.sato'],
      ['Thorne', 'Jasper', 'jasper.thorne'],
      ['Urbina', 'Xoel', 'xoel.urbina'],
      ['Vesterinen', 'Aino', 'aino.vesterinen'],
      ['Whaanga', 'Mikaere', 'mikaere.whaanga'],
      ['Youssef', 'Nour', 'nour.youssef'],
      ['Zielińska', 'Pola', 'pola.zielinska'],
    ],
  },
]

/** The reading bands of a class, given out in this order. */
export const BANDS = 'ABABBCABBACBACBBABCABBACABBC'
export const TUTORS = ['Haddow', 'Nakamura-Ruiz', 'Oduya'] as const

export interface DemoGroups {
  readonly name: string
  /** Name of a group and the places of its students in the roster. */
  readonly groups: readonly (readonly [name: string, places: number | null, students: readonly number[]])[]
}

/** As a sign-up sheet left it: one crew written in two ways, one student in none. */
export const SURVEY_CREWS: DemoGroups = {
  name: 'Survey crews',
  groups: [
    ['Crane', null, [0, 2, 5, 10, 17]],
    ['Lock gate', null, [1, 4, 9, 18]],
    ['Lock gates', null, [13]],
    ['Slipway', null, [3, 7, 11, 14]],
    ['Buoy yard', null, [6, 8, 12, 15]],
    ['Ferry steps', null, [19, 20, 21, 22]],
    ['Net loft', null, [23, 24, 25, 26]],
  ],
}

/** Open for the students to put themselves in. */
export const HARBOUR_TRADES: DemoGroups = {
  name: 'Harbour trades',
  groups: [
    ['Rope makers', 5, [1, 6, 11]],
    ['Pilots', 5, [0, 4]],
    ['Chart makers', 5, [2, 9, 13, 17, 20]],
    ['Boat builders', 5, []],
    ['Fish sellers', 6, [5]],
    ['Customs house', 5, []],
  ],
}
