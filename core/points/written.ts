import type { MailLook } from '#core/mails/look'
import type { Goal } from '#core/points/shapes/next'

/** A mail written for somebody, still to be sent. `due` in ms since 1970; null while the address is not confirmed. */
export interface Written {
  id: string
  kind: 'confirm' | 'mail'
  recipient: string
  /** The claim that it waits for, or asks about. */
  claim: string | null
  subject: string
  /** Markdown. */
  text: string
  look: MailLook
  days: number
  due: number | null
  goal: Goal | null
  unlessClicked: boolean
  /** As whom, and where replies go; '' as the house does. */
  from: { name: string; reply: string }
}

/** Gives the signed addresses that stand in mails: to confirm with, to follow a mail's link, to correct an entry; and to come to a form, known (`lead`) or as anybody. */
export interface Sign {
  act: (act: 'confirm' | 'follow' | 'correct', id: string) => string
  again: (slug: string, lead: string | null) => string
}
