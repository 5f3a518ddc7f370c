import type { Failure } from '#core/deliveries/delivery'
import type { InHand } from '#db/deliveries'
import { countAlone, delivered, drop, extendLeases, hold, hurry, leaseSome, letGo, mailsLately, notDelivered } from '#db/deliveries'
import { filesOfDelivery } from '#db/files'
import { isAway, type Sql, type Tx } from '#db/client'
import { meetingToMail } from '#db/meetings'
import { ChatFailed, chatText, postToChat } from '#server/deliveries/chat'
import { failureOf, handOver, mailOf, type Post } from '#server/deliveries/mail'
import { newId } from '#server/ids'
import { withoutTokens } from '#server/signed-addresses'
import { setting } from '#server/settings'

/**
 * Who sends at the same time. The fresh ones take what fell due just now and somebody waits for, and nothing else: however much
 * else waits, and however long each mail takes, it does not stand behind that.
 */
export const SLOTS = ['fresh', 'fresh', 'oldest', 'oldest'] as const
type Slot = (typeof SLOTS)[number]
/** So many are taken at once, while the other side is quick; else one, so that none waits with its lease running. */
const AT_ONCE = 8
const QUICK_MS = 500
/** Lines to the other side that all slots need at the same time. */
export const MOST_LINES = SLOTS.length * AT_ONCE

/** Whoever took something and does not say for so long that they still have it has died. */
const LEASE_S = 60
const EXTEND_MS = 20_000
const NOTE_AGAIN_MS = 500

/**
 * Mails to visitors within an hour, at most: to one mailbox (what is more is dropped), to addresses of one domain that nobody has
 * confirmed, and on behalf of one sender (what is more waits). Anybody can type anybody's address into a form, again and again.
 */
const mostAnHour = () => {
  const [domain, sender] = setting('CAVLIN_LIMITS')
    ? [setting('CAVLIN_LIMIT_MAILS_DOMAIN'), setting('CAVLIN_LIMIT_MAILS_SENDER')]
    : [Infinity, Infinity]
  return { mailbox: 5, domain, sender }
}
const WAIT_MINUTES = 15

/** What came of some deliveries: the leads to whom, or of whom, something went out; and why something did not. */
export interface Outcome {
  leads: string[]
  problem: string | null
}

/**
 * All that leaves the house goes through here. While something is handed over, no transaction is open and nothing is locked:
 * what is in hand is leased.
 * @param tell called of what was tried
 * @param channel each goes for itself: a chat that does not answer holds up no mail
 */
export function outbox(sql: Sql, post: Post, tell: (outcome: Outcome) => void = () => {}, channel: 'mail' | 'chat' = 'mail') {
  const inHand = new Set<string>()
  /** Leases of which we do not know whether we got them: the line to the database broke. */
  let unsure: string[] = []
  const keeping = setInterval(() => {
    if (inHand.size) extendLeases(sql, [...inHand], LEASE_S).catch(() => {})
  }, EXTEND_MS)
  keeping.unref()
  let reachable = false
  let quick = true

  /** Sends what is due. @param goOn asked before more is taken @returns how many were tried */
  async function work(slot: Slot, goOn = () => true): Promise<number> {
    for (let tried = 0; ;) {
      const some = goOn() ? await take(slot, quick ? AT_ONCE : 1) : []
      if (!some.length) return tried
      some.forEach(d => inHand.add(d.id))
      try {
        await send(some)
      } finally {
        some.forEach(d => inHand.delete(d.id))
      }
      tried += some.length
    }
  }

  /** Leases what may go out now. What may not, is dropped or held on the way. */
  async function take(slot: Slot, most: number): Promise<InHand[]> {
    if (unsure.length) {
      const those = unsure
      await letGo(sql, those)
      unsure = unsure.filter(lease => !those.includes(lease))
    }
    for (;;) {
      const lease = newId()
      const { taken, going } = await sql
        .begin(async tx => {
          const some = await leaseSome(tx, slot, most, LEASE_S, lease, channel)
          return { taken: some.length, going: await thoseThatMay(tx, some) }
        })
        .catch(error => {
          unsure.push(lease)
          throw error
        })
      if (!taken || going.length) return going
    }
  }

  async function send(some: InHand[]): Promise<void> {
    const tries = await Promise.all(some.map(d => tryOne(d)))
    const [went, failed] = [tries.filter(t => t.failed === null), tries.filter(t => t.failed !== null)]
    quick = tries.every(t => t.tookMs < QUICK_MS)
    if (went.length)
      await noted(() =>
        delivered(
          sql,
          went.map(({ d, answer, tookMs }) => ({ id: d.id, answer, tookMs, body: d.kind === 'notice' ? d.body : withoutTokens(d.body) })),
        ),
      )
    for (const { d, answer, failed: failure, tookMs } of failed)
      await noted(() => notDelivered(sql, d, { failure: failure!, answer, tookMs }))
    if (failed.some(t => t.failed === 'unreachable')) reachable = false
    else if (went.length) {
      if (!reachable) await hurry(sql, channel)
      reachable = true
    }
    tell({ leads: went.flatMap(({ d }) => d.leadId ?? []), problem: failed[0]?.answer ?? null })
  }

  async function tryOne(d: InHand): Promise<{ d: InHand; failed: Failure | null; answer: string; tookMs: number }> {
    const began = Date.now()
    try {
      if (channel === 'chat')
        return { d, failed: null, answer: await postToChat(d.chat, chatText(d, post.appUrl), d.id), tookMs: Date.now() - began }
      const meeting = d.meetingOf ? await meetingToMail(sql, d.meetingOf) : undefined
      const files = d.kind === 'personal' ? await filesOfDelivery(sql, d.id) : []
      return { d, failed: null, answer: await handOver(post, mailOf(d, post, meeting, files)), tookMs: Date.now() - began }
    } catch (error) {
      const { failure, answer } = error instanceof ChatFailed ? { failure: error.failure, answer: error.message } : failureOf(error)
      return { d, failed: failure, answer, tookMs: Date.now() - began }
    }
  }

  return { work, close: () => clearInterval(keeping) }
}

/** It went out: that is to be written down, or it would go out again. The database may be away for a while. */
async function noted(note: () => PromiseLike<unknown>): Promise<void> {
  const end = Date.now() + LEASE_S * 1000
  for (;;) {
    try {
      return void (await note())
    } catch (error) {
      if (!isAway(error) || Date.now() > end) throw error
      await new Promise(done => setTimeout(done, NOTE_AGAIN_MS))
    }
  }
}

/** Those that may go out now; what may not comes later, or never. What goes to members may in any case. */
async function thoseThatMay(tx: Tx, some: InHand[]): Promise<InHand[]> {
  const may: InHand[] = []
  for (const [i, d] of some.entries())
    if (
      d.recipientKey === null ||
      (await mayGo(
        tx,
        d,
        some.slice(i + 1).map(o => o.id),
      ))
    )
      may.push(d)
  return may
}

/** @param behind those that were taken with it and come behind it */
async function mayGo(tx: Tx, mail: InHand, behind: string[]): Promise<boolean> {
  // Whoever left meanwhile gets nothing that does not answer them at once.
  const unasked = (mail.kind === 'mail' || mail.kind === 'reminder') && mail.days > 0
  if (mail.unsubscribedAt && !mail.claimId && unasked) await drop(tx, mail.id, 'unsubscribed')
  else if (mail.done) await drop(tx, mail.id, 'clicked')
  else {
    await countAlone(tx)
    const [lately, most] = [await mailsLately(tx, mail, behind), mostAnHour()]
    if (lately.mailbox >= most.mailbox) await drop(tx, mail.id, 'too many')
    else if ((!mail.known && lately.domain >= most.domain) || (mail.sender && lately.sender >= most.sender))
      await hold(tx, mail.id, WAIT_MINUTES)
    else return true
  }
  return false
}
