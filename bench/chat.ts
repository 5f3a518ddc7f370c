import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { noteIndex } from '#core/chat/note-search'
import type { NoteText } from '#core/chat/notes-view'
import { connect } from '#db/client'
import { notes as demoNotes } from '../demo/chat'
import { demoFile, type House } from '../scripts/house'
import { begun, insist, Listener, post } from '../tests/support/talk-listener'
import { quantile } from './load'

const [OPEN, WRITING, SECONDS] = [500, 50, 20]
const [NOTES, LOOKS] = [5000, 300]
const [CUTS, KILLS] = [50, 5]

const memoryOf = (pid: number) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1])

/** What a chat costs: its weight, its messages' way, open conversations, what is lost, and a look into the notes. */
export async function benchChat(house: House): Promise<void> {
  weight(house)
  await lookUps(house)
  const { url, members } = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as {
    url: string
    members: { email: string; password: string }[]
  }
  const { email, password } = members.find(m => m.email.startsWith('mireille'))!
  const cookie = (await post(`${url}/api/session`, { email, password })).headers.getSetCookie()[0]!.split(';')[0]!

  const memory = async () => {
    await new Promise(done => setTimeout(done, 8000))
    return memoryOf(house.children.app.pid()!)
  }
  const fresh = await memory()
  const all = await Promise.all(Array.from({ length: OPEN }, () => begun(url)))
  const quiet = await memory()
  const listeners = all.map(c => new Listener(url, c.id, c.secret).start())
  const each = (from: number, to: number) => ((to - from) / OPEN).toFixed(1)
  console.log(
    `MEMORY    ${each(quiet, await memory())} kB of the application's resident memory for each of ${OPEN} idle conversations with its stream (aim: under 40); beginning them at once had left ${each(fresh, quiet)} kB each`,
  )

  // One half writes as visitors and is heard in their other window; the other half is answered by one of us.
  const talking = all.slice(0, WRITING)
  for (const c of talking) await insist(url, c, 'I would rather talk to somebody')
  const said = new Map<string, { at: number; by: Listener }>()
  const end = Date.now() + SECONDS * 1000
  await Promise.all(
    talking.map(async (c, i) => {
      await new Promise(done => setTimeout(done, (1000 * i) / WRITING))
      for (let n = 0; Date.now() < end; n++) {
        const [message, at] = [randomUUID(), Date.now()]
        said.set(message, { at, by: listeners[i]! })
        const answer =
          i % 2
            ? await post(`${url}/w/chats/said`, { ...c, after: 1e5, message, kind: 'text', text: `Line ${n}` })
            : await post(`${url}/api/team/conversations/${c.id}/messages`, { message, text: `Line ${n}`, after: 1e5 }, cookie)
        if (answer.status > 201) throw new Error(`${answer.status} ${await answer.text()}`)
        await answer.arrayBuffer()
        await new Promise(done => setTimeout(done, Math.max(0, at + 1000 - Date.now())))
      }
    }),
  )
  await new Promise(done => setTimeout(done, 2000))
  const times = [...said].map(([id, { at, by }]) => (by.heard.has(id) ? by.heard.get(id)! - at : Infinity))
  console.log(
    `MESSAGE   95% within ${quantile(times, 0.95)} ms on the other side's screen, median ${quantile(times, 0.5)} ms, ${times.filter(t => !Number.isFinite(t)).length} of ${times.length} not seen; ${OPEN} open conversations, ${WRITING} of them write each second (aim: 250 ms)`,
  )
  listeners.slice(4).forEach(l => l.end())
  await losses(house, url, all.slice(0, 4), listeners.slice(0, 4))
}

/** Lines are cut and the server killed while visitors write: what they were told is kept is there once, and in one order on both sides. */
async function losses(house: House, url: string, talks: { id: string; secret: string }[], near: Listener[]): Promise<void> {
  const far = talks.map(c => new Listener(url, c.id, c.secret).start())
  let going = true
  const kept = talks.map(() => [] as string[])
  const writers = talks.map(async (c, i) => {
    for (let n = 0; going; n++) {
      kept[i]!.push(await insist(url, c, `Kept ${n}`))
      await new Promise(done => setTimeout(done, 60))
    }
  })
  for (let n = 0; n < CUTS; n++) {
    await new Promise(done => setTimeout(done, 400))
    ;[near, far][n % 2]![n % talks.length]!.drop()
    if ((n + 1) % (CUTS / KILLS)) continue
    process.kill(house.children.app.pid()!, 'SIGKILL')
    for (let up = false; !up;) {
      await new Promise(done => setTimeout(done, 300))
      up = await fetch(`${url}/health`).then(
        a => a.status === 200,
        () => false,
      )
    }
  }
  going = false
  await Promise.all(writers)
  await new Promise(done => setTimeout(done, 18_000))
  const sql = connect(house.databaseUrl, { max: 1 })
  let [lost, doubled, apart] = [0, 0, 0]
  for (const [i, c] of talks.entries()) {
    const rows = await sql<{ id: string }[]>`select id from message where conversation_id = ${c.id} and by = 'visitor' order by n`
    const ids = rows.map(r => r.id)
    lost += kept[i]!.filter(id => !ids.includes(id)).length
    doubled += ids.length - new Set(ids).size
    for (const side of [near[i]!, far[i]!]) {
      const heard = side.order.filter(l => l.by === 'visitor').map(l => l.id)
      doubled += heard.length - new Set(heard).size
      lost += ids.filter(id => !heard.includes(id)).length
      if (JSON.stringify(heard) !== JSON.stringify(ids)) apart++
    }
  }
  await sql.end()
  console.log(
    `KEPT      ${lost} lost, ${doubled} doubled, ${apart} sides in another order, of ${kept.flat().length} messages over ${CUTS} cut lines and ${KILLS} SIGKILLs (aim: 0)`,
  )
  for (const l of [...near, ...far]) l.end()
}

function weight(house: House): void {
  const read = (file: string) => readFileSync(join(house.place.root, '.output/public/w', file))
  const size = (file: string) => gzipSync(read(file), { level: 9 }).length
  console.log(
    `WEIGHT    ${size('parts/chat.js')} bytes gzipped for the chat's part, which fetches no other (aim: at most 14336); the loader ${size('cavlin.js')}`,
  )
}

/** Which search ranks better on the demo's questions, and how long a look among many notes takes beside reading them all once. */
async function lookUps(house: House): Promise<void> {
  const lines = demoNotes('2026-01-01T00:00:00Z', 'somebody@larkmoss.example')
  const notes: NoteText[] = lines.flatMap(l => (l.kind === 'note' ? [{ id: l.title, title: l.title, body: l.body }] : []))
  const questions = lines.flatMap(l => (l.kind === 'note_question' && l.note !== null ? [{ text: l.text, note: l.note }] : []))
  const index = noteIndex(notes)
  const sql = connect(house.databaseUrl, { max: 1 })
  let [ours, theirs] = [0, 0]
  for (const { text, note } of questions) {
    if (index.find(text)[0]?.id === note) ours++
    const [first] = await sql<{ title: string }[]>`
      with q as (select replace(plainto_tsquery('english', ${text})::text, ' & ', ' | ')::tsquery as any)
      select title from note, q, lateral (select setweight(to_tsvector('english', title), 'A') || setweight(to_tsvector('english', body), 'B') as doc) d
      where removed_at is null and doc @@ q.any order by ts_rank_cd(doc, q.any, 1) desc, title limit 1`
    if (first?.title === note) theirs++
  }
  await sql.end()
  console.log(
    `RANKING   the right note first: ${ours} of ${questions.length} by MiniSearch with our stems and weights, ${theirs} by PostgreSQL's text search (ts_rank_cd, English, any word)`,
  )

  let seed = 9
  const dice = () => (seed = (seed * 48271) % 2147483647) / 2147483647
  const words = notes.flatMap(n => n.body.split(' '))
  const many = Array.from({ length: NOTES }, (_, n) => ({
    id: String(n),
    title: `Note ${n} ${words[Math.floor(dice() * words.length)]}`,
    body: Array.from({ length: 40 }, () =>
      dice() < 0.4 ? `w${Math.floor(dice() * 20_000)}` : words[Math.floor(dice() * words.length)],
    ).join(' '),
  }))
  const large = noteIndex(many)
  const asked = Array.from({ length: LOOKS }, (_, n) => questions[n % questions.length]!.text)
  const timed = (work: (text: string) => unknown) =>
    asked.map(text => {
      const from = performance.now()
      work(text)
      return performance.now() - from
    })
  timed(text => large.find(text))
  const found = timed(text => large.find(text))
  const scanned = timed(text => many.filter(n => text.split(' ').some(w => n.body.toLowerCase().includes(w))).length)
  console.log(
    `LOOK-UP   ${quantile(found, 0.95).toFixed(1)} ms for 95% of look-ups among ${NOTES} notes, median ${quantile(found, 0.5).toFixed(1)} (aim: 30 ms); ${(quantile(found, 0.5) / quantile(scanned, 0.5)).toFixed(2)} of reading all texts once for the question's words (floor, ${quantile(scanned, 0.5).toFixed(1)} ms)`,
  )
}
