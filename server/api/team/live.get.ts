import { defineEventHandler, getQuery } from 'h3'
import { common, concerns, readTopics, type Topics } from '#core/live/topics'
import { stands } from '#db/sessions'
import { database } from '#server/database'
import { hubInstance } from '#server/live/hub-instance'
import { plainStream } from '#server/live/plain-stream'
import { streamOpened } from '#server/live/streams'
import { problem } from '#server/problem'
import { lasting, memberOf, sessionOf } from '#server/session'

/**
 * What changes of what a screen looks at, as server-sent events, for as long as the screen is open and its member signed in:
 * `?leads=*&drafts=ID`. `lately=MS`: begins with what changed in the last so many ms.
 */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const session = sessionOf(event)!
  const { lately, ...query } = getQuery(event)
  const asked = readTopics(query)
  if (typeof asked === 'string') throw problem(422, asked)
  if (lately !== undefined && !/^\d{1,9}$/.test(String(lately))) throw problem(422, '“lately” cannot be read: write a number of ms.')
  // Each hears of their own notices, whatever they ask for.
  const looks: Topics = { ...asked, ...(asked.notices && { notices: [member.id] }) }
  const forgetStream = streamOpened(() => stream.close())
  if (!forgetStream) throw problem(503, 'Cavlin is being stopped. Your screen comes back by itself when it is there again.')
  const push = (data: unknown) => stream.push(JSON.stringify(data))
  const hub = hubInstance()
  const stop = hub.hear(({ ended, out, here, writing, ...change }) => {
    if (ended?.includes(member.id) || out?.includes(session.toString('hex'))) return stream.close()
    const seen = here?.filter(h => concerns(looks, { presence: [h.point] })) ?? []
    const typing = writing?.filter(w => w.member !== member.id && concerns(looks, { conversations: [w.conversation] })) ?? []
    const heard = { ...common(change, looks), ...(seen.length && { here: seen }), ...(typing.length && { writing: typing }) }
    if (Object.keys(heard).length) push(heard)
  })
  const stream = plainStream(
    event,
    // A session may end by itself while nobody asks for anything.
    () =>
      void stands(database(), session, lasting()).then(
        still => still || stream.close(),
        () => {},
      ),
    () => {
      forgetStream()
      stop()
    },
  )
  push({ hello: true })
  const missed = lately === undefined ? {} : common(hub.lately(Number(lately)), looks)
  if (Object.keys(missed).length) push(missed)
})
