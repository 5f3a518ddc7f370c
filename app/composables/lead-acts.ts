import type { SentBackWhy } from '#core/events/kinds/sent-back'
import type { CallResult } from '#core/follow-up/state'
import { CALL_WORDS } from '#core/follow-up/state'
import type { LeadView, NextStepView } from '#core/team'

/** What is said with a status. */
export interface StatusSaid {
  reason?: string
  value?: number
  on?: string
  until?: string
}
type Acted = LeadView & { version: number }

/**
 * What a person does about a lead. Each act says what was done and can be taken back as a whole; where a colleague was quicker, what
 * stands now is shown, and one chooses anew.
 * @param lead as it is seen
 * @param refresh shows what came of it
 */
export function useLeadActs(lead: () => LeadView | null, refresh: () => Promise<unknown>) {
  const say = useToasts()
  const house = useHouse()
  const session = useSession()

  /** Sends an act. @returns what came of it; null when it failed, which was said */
  async function send(path: string, method: 'PUT' | 'POST', body: object): Promise<Acted | null> {
    try {
      const acted = await api<Acted>(`/api/team/leads/${lead()!.id}/${path}`, { method, body })
      await refresh()
      return acted
    } catch (error) {
      say.failed(error)
      if (error instanceof ApiError && error.status === 409) await refresh()
      return null
    }
  }
  /** Says that it was done, with the way back. */
  function done(acted: Acted | null, words: string): boolean {
    if (!acted) return false
    const { id, version } = acted
    say.done(words, async () => {
      await api(`/api/team/leads/${id}/undo`, { method: 'POST', body: { of: version } })
      await refresh()
    })
    return true
  }

  return {
    send,
    async setStatus(status: string, said: StatusSaid = {}): Promise<boolean> {
      const { name, status: was } = lead()!
      return done(await send('status', 'PUT', { status, was, ...said }), `${name}: ${house.statusName(status)}`)
    },
    async setOwner(owner: string | null, words = '', within: number | null = null): Promise<boolean> {
      const { name, owner: before } = lead()!
      if (owner === (before?.id ?? null)) return false
      const acted = await send('owner', 'PUT', { owner, was: before?.id ?? null, ...(words && { words }), ...(within && { within }) })
      const did =
        owner === null
          ? `Nobody answers for ${name} now`
          : owner === session.me!.id
            ? `${name} is yours now`
            : `${name} goes to ${house.memberName(owner)}`
      return done(acted, did)
    },
    async call(result: CallResult, text: string): Promise<boolean> {
      const { name } = lead()!
      return done(await send('calls', 'POST', { result, ...(text.trim() && { text }) }), `${name}: ${CALL_WORDS[result].toLowerCase()}`)
    },
    async setStep(
      step: (Omit<NextStepView, 'every'> & { every?: string | null }) | null,
      finished: boolean,
      outcome = '',
    ): Promise<boolean> {
      const before = lead()!.nextStep
      const body = step ? { ...step, every: step.every ?? undefined } : { text: null, done: finished, ...(outcome && { outcome }) }
      const acted = await send('next-step', 'PUT', { ...body, was: before?.text ?? null })
      return done(acted, step ? `Next: ${step.text}` : finished ? `Done: ${before?.text}` : `Taken away: ${before?.text}`)
    },
    async sendBack(why: SentBackWhy, words: string): Promise<boolean> {
      const { name } = lead()!
      return done(await send('sent-back', 'PUT', { why, ...(words.trim() && { words }) }), `${name} is sent back`)
    },
    async accept(accepts: boolean): Promise<boolean> {
      const { name } = lead()!
      return Boolean(await send('accept', 'PUT', { accepts })) && (say.done(accepts ? `${name} is yours` : `${name} goes back`), true)
    },
  }
}
