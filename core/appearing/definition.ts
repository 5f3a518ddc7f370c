import type { Variant } from '#core/points/variants'
import type { Condition } from '#core/conditions/condition'

/**
 * Where and when a point shows by itself on the site, beside what its tag does. The browser decides by it
 * (`decide.ts`), without knowing anything about people but what the server told of this one.
 */
export const PLACEMENTS = ['over', 'edge', 'corner', 'text', 'button'] as const
/** over: over the page; edge: a bar along an edge; corner: a card in a corner; text: where the page keeps a place for it; button: behind an element of the page. */
export type Placement = typeof PLACEMENTS[number]

export interface DisplayRules {
  /** Off: it stands only where its tag, its frame or its own page stands. */
  on: boolean
  placement: Placement
  /** Of a bar: at the top or the bottom. Of a card: in the left or the right corner. */
  side: 'start' | 'end'
  /** What the bar or the card says before it is opened, and the button that opens it. */
  invitation: string
  open: string
  /** On which pages; null: on all. Attributes: page.path, page.address, page.title, page.query.NAME. */
  pages: Condition | null
  /** Where it does not show, whatever else holds. */
  except: Condition | null
  /** What has to happen first: one of them, or all. None: at once. */
  moments: Moment[]
  together: 'any' | 'all'
  /** To whom; null: to everybody. */
  audience: Condition | null
  period: Period
  rest: Rest
  /** Also on small screens, where it would lie over what people read. */
  small: boolean
}

export const MOMENTS = ['seconds', 'scrolled', 'leaving', 'pages', 'idle', 'click', 'event'] as const
/**
 * seconds: so long on the page; scrolled: to so many percent of it; leaving: about to leave; pages: so many pages in
 * this visit; idle: nothing done for so many seconds; click: on an element (a selector); event: a custom event.
 */
export type Moment = { kind: 'leaving' } | { kind: 'seconds' | 'scrolled' | 'pages' | 'idle'; n: number } | { kind: 'click' | 'event'; what: string }

/** Days as ISO dates, weekdays from 1 (Monday), hours half-open, all in the house's zone. */
export interface Period { from: string | null; until: string | null; days: number[]; hours: [number, number] | null }
/** Days that it stays away after somebody closed it and after they answered (null: for good); how often a visit at most. */
export interface Rest { closed: number; answered: number | null; perVisit: number }

/** These come without being asked; one at a time. */
export const isUninvited = (placement: Placement) => placement === 'over' || placement === 'edge' || placement === 'corner'

export const NOWHERE: DisplayRules = {
  on: false, placement: 'corner', side: 'end', invitation: '', open: 'Tell me more', pages: null, except: null, moments: [], together: 'any', audience: null,
  period: { from: null, until: null, days: [], hours: null }, rest: { closed: 14, answered: null, perVisit: 1 }, small: false,
}

/**
 * What the visitors' script knows of a point that may appear. Tests that only the server can judge stand in the
 * audience as `server.0`, `server.1`…, so that nothing of what we know about people is in the script; `nobody` is
 * what the server says of somebody whom it does not know.
 */
export interface PublicDisplayRules extends Omit<DisplayRules, 'on'> { key: string; edition: number; title: string; nobody: boolean[]; experiment?: string; variants?: Pick<Variant, 'key' | 'title' | 'invitation' | 'open'>[] }
