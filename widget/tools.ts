import type { Language } from '#core/languages/language'
import type { noticeWords } from '#core/languages/point-words'
import type { holds } from '#core/conditions/condition'
import type { PublicDisplayRules } from '#core/appearing/definition'
import type { DrawnTheme } from '#core/points/theme'
import type { Trail } from './trail'

/** What the page's script hands to what draws. */
export interface Tools {
  base: string
  /** Who it is, if they agreed to be known. */
  visitor: () => string | null
  /** Whether what they type may be kept before it is sent. */
  keeps: () => boolean
  record: Trail['record']
  holds: typeof holds
  onLeave: (done: () => void) => void
  opened: (key: string) => void
  closed: (key: string, answered: boolean) => void
}

/** What `/w/site` says. `shift`: minutes by which the house's clock is ahead of UTC now. */
export interface SiteWord {
  agreement: 'own' | 'site' | 'not_needed'
  notice: string
  /** How the notice looks, where there is one. */
  drawn?: DrawnTheme
  language?: Language
  words?: ReturnType<typeof noticeWords>
  parameters: string[]
  /** What is typed may be kept before it is sent. */
  unfinished: boolean
  shift: number
  points: PublicDisplayRules[]
}
