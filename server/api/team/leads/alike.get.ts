import { defineEventHandler, getQuery } from 'h3'
import { calledLike, countSaid } from '#db/said'
import { listReadings } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const MOST_ALIKE = 6
/** More are only said to be more. */
const MOST_SAID = 100

/** What a search that finds few may have meant: who is called nearly so, and in how many leads' notes and mails it stands. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { search } = getQuery(event)
  if (typeof search !== 'string' || !search.trim()) throw problem(400, 'Say what is looked for: `?search=`.')
  const text = search.trim().slice(0, 200)
  const [like, said] = await Promise.all([
    calledLike(listReadings(), text, MOST_ALIKE),
    text.length < 3 ? 0 : countSaid(listReadings(), text, MOST_SAID),
  ])
  return { like, said, more: said === MOST_SAID }
})
