// A class that works in a handout of the running demo, to watch its board live: it opens, types as people do, asks, comments,
// submits, takes back, and goes where there is no network. It makes a class of its own for it.
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { needPackages } from './lib/needs.mjs'
import { ROOT, Stop, main, run, say } from './lib/run.mjs'

const FIRST = [
  'Alva',
  'Bruno',
  'Chidi',
  'Dara',
  'Emre',
  'Farah',
  'Goran',
  'Hana',
  'Ivo',
  'Jana',
  'Kofi',
  'Lina',
  'Mateo',
  'Noor',
  'Oskar',
  'Pia',
]
const LAST = [
  'Abara',
  'Berg',
  'Costa',
  'Dahl',
  'Eriksen',
  'Fofana',
  'Gruber',
  'Haddad',
  'Ito',
  'Juma',
  'Kowal',
  'Lund',
  'Moreau',
  'Nkosi',
  'Okafor',
  'Petrov',
]
const PHRASES = [
  'The tide comes in twice a day and the harbour fills behind the sill.',
  'At low water the ferry has to wait outside until there is enough over the sand.',
  'We looked it up in the table and counted back from the time of high water.',
  'I think the north wind holds it for a while so it is a little later than printed.',
  'The difference between the two heights is the range and it is larger after new moon.',
]
const QUESTIONS = ['Which table do we use?', 'Is it summer time?', 'Do we round to tenths?', 'What is the sill?']

const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, Math.max(0, milliseconds)))
const pick = (list) => list[Math.floor(Math.random() * list.length)]

const inWords = ({ keys, asked, said, submitted, back, away }) =>
  `${keys} keys, ${asked} questions, ${said} comments, ${submitted} submitted, ${back} taken back, ${away} times without a network`

/** Somebody who is signed in, and asks the API. */
async function signIn(address, email, password) {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  if (!answer.ok) throw new Stop(`${email} cannot sign in: ${(await answer.json()).detail}`)
  const cookie = answer.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ')
  const ask = async (method, path, body) => {
    const answered = await fetch(`${address}/api/${path}`, {
      method,
      headers: { cookie, ...(body && { 'content-type': 'application/json' }) },
      ...(body && { body: JSON.stringify(body) }),
    })
    if (answered.status === 204) return null
    const found = await answered.json()
    if (!answered.ok) throw new Stop(found.detail ?? `${path} answered ${answered.status}.`)
    return found
  }
  return { cookie, ask }
}

/** A class, its students with sign-in cards, and a handout to them. */
async function prepare(core, { ask }, { students, title }) {
  const sheet = (await ask('GET', 'worksheets')).find((one) => one.title === title && one.edition !== null)
  if (!sheet) throw new Stop(`There is no worksheet “${title}”.`)
  const when = new Date().toTimeString().slice(0, 5)
  const { id: classId } = await ask('POST', 'classes', {
    name: `Lesson ${when}`,
    subject: 'Simulated',
    year: '',
    ink: 'teal',
  })
  const rows = Array.from({ length: students }, (_, at) => ({
    first: FIRST[at % FIRST.length],
    last: `${LAST[Math.floor(at / FIRST.length) % LAST.length]}${at >= FIRST.length * LAST.length ? ` ${at}` : ''}`,
    email: '',
  }))
  await ask('POST', `classes/${classId}/roster`, { rows })
  const cards = await ask('POST', `classes/${classId}/sign-in-cards`, {})
  const statement = core.plainStatement(
    [core.plainItem('first', sheet.id, sheet.edition)],
    [{ classId, opensAt: null, dueAt: Date.now() + 90 * 60_000 }],
  )
  const { id: handoutId } = await ask('POST', `classes/${classId}/handouts`, { title, statement })
  const slip = await ask('GET', `handouts/${handoutId}`)
  const { changes } = core.proofOf(slip.statement, slip.worksheets, slip.parts, Date.now())
  await ask('POST', `handouts/${handoutId}/hand-out`, {
    version: slip.version,
    fingerprint: core.fingerprintChanges(changes),
  })
  while (!(await ask('GET', `handouts/${handoutId}/hand-out`)).finished) await pause(200)
  return { classId, handoutId, cards }
}

/** What one student does until the lesson is over. */
async function work(core, { address, card, lesson, until, done }) {
  const Y = await import('yjs')
  const { ask, cookie } = await signIn(address, card.signInName, card.password)
  const { copies } = await ask('GET', `handouts/${lesson.handoutId}/mine`)
  const [{ id: copyId }] = copies
  const { content } = await ask('GET', `copies/${copyId}`)
  const spaces = core.answerSpaces(content)
  // Keys a second, as some are quick and others think.
  const pace = 1.5 + Math.random() * 3
  const page = await open(core, Y, { address, cookie, copyId })
  for (const space of spaces) {
    if (Date.now() > until) break
    await pause(1_000 + Math.random() * 6_000)
    if (space.kind === 'choice') page.choose(space, pick(space.options).id)
    else if (['line', 'number', 'passage', 'gap', 'cell'].includes(space.kind)) {
      const words =
        space.kind === 'passage'
          ? `${pick(PHRASES)} ${pick(PHRASES)}`
          : space.kind === 'number'
            ? String(1 + Math.floor(Math.random() * 9))
            : pick(PHRASES).split(' ').slice(0, 4).join(' ')
      for (const letter of words) {
        if (Date.now() > until) break
        page.type(space, letter)
        done.keys++
        await pause((1_000 / pace) * (letter === ' ' ? 2 : 1) * (0.5 + Math.random()))
      }
    }
    const now = Math.random()
    const about = (kind, text) =>
      ask('PUT', `copies/${copyId}/comments/${crypto.randomUUID()}`, {
        ...{ text, threadId: crypto.randomUUID() },
        begins: { kind, staffOnly: kind === 'question', anchor: { is: 'space', space: space.id } },
      }).catch(() => undefined)
    if (now < 0.04) {
      await about('question', pick(QUESTIONS))
      done.asked++
    } else if (now < 0.07) {
      await about('comment', 'I am not sure about this one.')
      done.said++
    } else if (now < 0.11) {
      done.away++
      page.lose()
      await pause(4_000 + Math.random() * 10_000)
    }
    await page.connected()
  }
  await page.saved()
  if (
    Date.now() < until &&
    (await ask('POST', `copies/${copyId}/submit`).then(
      () => true,
      () => false,
    ))
  ) {
    done.submitted++
    if (Math.random() < 0.15) {
      await pause(5_000)
      if (
        await ask('POST', `copies/${copyId}/take-back`).then(
          () => true,
          () => false,
        )
      )
        done.back++
    }
  }
  page.close()
}

/** A page with a copy on it: it keeps what is written without a network, and sends it when it is back. */
async function open(core, Y, { address, cookie, copyId }) {
  const { WebSocket } = await import('ws')
  const docs = new Map()
  const waiting = []
  let socket = null
  let number = 0
  let ready = null
  let acknowledged = 0
  const send = ({ space, bytes }) => socket.send(core.writeSpaceUpdate({ channel: 1, space, number: ++number, bytes }))
  const connect = () =>
    (ready ??= new Promise((resolve) => {
      socket = new WebSocket(`${address.replace('http', 'ws')}/api/live`, { headers: { cookie, origin: address } })
      number = acknowledged = 0
      socket.on('open', () => socket.send(JSON.stringify({ type: 'open', channel: 1, copyId })))
      socket.on('message', (data, isBinary) => {
        if (isBinary) return
        const message = JSON.parse(Buffer.from(data).toString())
        if (message.type === 'saved') acknowledged = Math.max(acknowledged, message.number)
        if (message.type !== 'ready') return
        for (const [space, { doc }] of docs)
          socket.send(JSON.stringify({ type: 'writer', channel: 1, space, client: doc.clientID }))
        for (const update of waiting.splice(0)) send(update)
        resolve()
      })
      socket.on('error', () => undefined)
      socket.on('close', () => (ready = null))
    }))
  const change = (space, act) => {
    let own = docs.get(space.id)
    if (!own) {
      const doc = core.newAnswerDoc(space.kind)
      docs.set(space.id, (own = { doc }))
      if (ready && socket.readyState === 1)
        socket.send(JSON.stringify({ type: 'writer', channel: 1, space: space.id, client: doc.clientID }))
    }
    const before = Y.encodeStateVector(own.doc)
    act(own)
    const update = { space: space.id, bytes: Y.encodeStateAsUpdate(own.doc, before) }
    if (ready && socket.readyState === 1) send(update)
    else waiting.push(update)
  }
  await connect()
  return {
    type: (space, letter) =>
      change(space, (own) => {
        const root = core.openRoot(own.doc, space.kind)
        if (!own.letters && root instanceof Y.Text) own.letters = root
        if (!own.letters) {
          const paragraph = new Y.XmlElement('paragraph')
          own.letters = new Y.XmlText()
          paragraph.insert(0, [own.letters])
          root.insert(0, [paragraph])
        }
        own.letters.insert(own.letters.length, letter)
      }),
    choose: (space, option) => change(space, ({ doc }) => core.openRoot(doc, space.kind).set(option, true)),
    lose: () => {
      socket.terminate()
      ready = null
    },
    connected: connect,
    saved: async () => {
      await connect()
      for (let tries = 0; acknowledged < number && tries < 100; tries++) await pause(100)
    },
    close: () => socket.close(),
  }
}

await main(async () => {
  const { values } = parseArgs({
    options: {
      ...{ students: { type: 'string', default: '60' }, minutes: { type: 'string', default: '5' } },
      ...{
        url: { type: 'string', default: 'http://127.0.0.1:4180' },
        worksheet: { type: 'string', default: 'Reading a tide table' },
      },
    },
  })
  const [students, minutes] = [Number(values.students), Number(values.minutes)]
  if (!(students >= 1 && students <= 300)) throw new Stop('Say how many students: 1 to 300.')
  if (!(minutes > 0 && minutes <= 60)) throw new Stop('Say how many minutes: up to 60.')
  const address = values.url.replace(/\/+$/, '')
  if (!['127.0.0.1', 'localhost', '[::1]'].includes(new URL(address).hostname))
    throw new Stop('It works with a demo on this machine alone.')
  needPackages()
  if (!existsSync(join(ROOT, 'core/dist/index.js')))
    run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'core'])
  const core = await import('@gavrin/core')
  const teacher = await signIn(address, 'okonjo@fennickquay.example', 'harbour-wall-26').catch(() => {
    throw new Stop(`There is no demo at ${address}: start it with "npm run demo".`)
  })
  const lesson = await prepare(core, teacher, { students, title: values.worksheet })
  say(`watch it: ${address}/class/${lesson.classId}/handouts/${lesson.handoutId}`)
  const until = Date.now() + minutes * 60_000
  const done = { keys: 0, asked: 0, said: 0, submitted: 0, back: 0, away: 0 }
  const told = setInterval(() => say(inWords(done)), 15_000)
  await Promise.all(
    lesson.cards.map(async (card, at) => {
      await pause((at / lesson.cards.length) * Math.min(45_000, minutes * 10_000))
      await work(core, { address, card, lesson, until, done })
    }),
  )
  clearInterval(told)
  say(`over. ${inWords(done)}`)
})
