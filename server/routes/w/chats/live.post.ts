import { defineEventHandler } from 'h3'
import { conversationById } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { wasFetched } from '#server/chat/spoken'
import { windowView } from '#server/chat/visitor'
import { After, heldBy } from '#server/chat/wire'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { hubInstance } from '#server/live/hub-instance'
import { plainStream } from '#server/live/plain-stream'
import { streamOpened } from '#server/live/streams'
import { problem } from '#server/problem'
import { readChecked } from '#server/wire'

/**
 * What is said in a conversation, to its visitor, as server-sent events: the lines after the last that they have, as they come. It
 * is asked for by a POST, so that the word that opens it stands in no address.
 */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const body = await readChecked(event, After)
  const { id, last: known } = await heldBy(body)
  const forgetStream = streamOpened(() => stream.close())
  if (!forgetStream) throw problem(503, 'Cavlin is being stopped. Your conversation goes on by itself in a moment.')
  void wasFetched(id).catch(() => {})
  let at = Math.min(body.after, known)
  let told = ''
  let busy: Promise<void> | null = null
  let again = false
  /** Sends what is new; whoever asks meanwhile is served by one more look. */
  function look(): Promise<void> {
    if (busy) {
      again = true
      return busy
    }
    busy = send()
      .catch(() => {})
      .then(() => {
        busy = null
        if (!again) return
        again = false
        return look()
      })
    return busy
  }
  async function send(): Promise<void> {
    const c = await conversationById(database(), id)
    if (!c) return stream.close()
    const state = `${c.last} ${c.seenByUs} ${c.state} ${c.memberId}`
    if (state === told) return
    const view = await windowView(c, at)
    stream.push(JSON.stringify(view))
    told = state
    at = c.last
  }
  const stop = hubInstance().hear(change => {
    if (change.conversations === true || change.conversations?.includes(id)) void look()
    const writes = change.writing?.find(w => w.conversation === id && w.member !== null)
    if (writes)
      void nameOf(writes.member!)
        .then(name => name && stream.push(JSON.stringify({ typing: name })))
        .catch(() => {})
  })
  const stream = plainStream(
    event,
    () => void look(),
    () => {
      forgetStream()
      stop()
    },
  )
  void look()
})

const nameOf = async (member: string): Promise<string | undefined> => (await applicationContext().cache.ruleset()).members.get(member)?.name
