import type { Way } from '#core/points/markup'
import { assetPath } from '#core/points/next'
import type { Answers, PointDefinition } from '#core/points/definition'
import type { Point } from '#db/points'
import { idOfToken, signedToken, signedAddress } from '#server/signed-addresses'
import { ownAddress } from '#server/settings'
import type { Intake } from '#core/capture/intake'
import type { Judged } from '#core/quiz/judge'
import { resultMarkup } from '#core/quiz/markup'
import { sayIn } from '#core/languages/say'

/** What a browser is told to do after an entry. A `url` without `text` is gone to at once; `ways` are links to offer. */
export type NextView =
  | { kind: 'message'; text: string; ways?: Way[] }
  | { kind: 'address' | 'page'; url: string }
  | { kind: 'file'; text: string; url: string; name: string; ways?: Way[] }
  | { kind: 'meeting'; text: string; url: string; ways?: Way[] }
  /** What a quiz came to, drawn. */
  | { kind: 'result'; html: string }

const here = (path: string) => `${ownAddress()}${path}`

/** Where something came from: the form, and the landing page that it stood on, if any. */
interface Place {
  point: Pick<Point, 'slug'>
  page: { slug: string } | null
}

/**
 * What a quiz came to, as it stands in its place.
 * @param slug where it begins again: the quiz's own, or that of the landing page it stands on
 * @param entry whose it is; nobody's, if left out
 */
export const resultOf = (
  definition: PointDefinition,
  { slug, point }: { slug: string; point: string },
  judged: Judged,
  answers: Answers,
  entry?: string,
): string =>
  resultMarkup(definition, judged, answers, {
    base: ownAddress(),
    again: here(`/p/${slug}`),
    share: here(sharedPath(definition, point, judged.result)),
    ...(entry && { meet: signedAddress('meet', entry) }),
  })

/** Where a result stands that is shown to others. @param slug of the quiz */
export const sharedPath = (definition: PointDefinition, slug: string, result: string): string =>
  `/p/${slug}/r/${result}${definition.translations.some(t => t.key === definition.language) ? `?lang=${definition.language}` : ''}`

/** What comes after an entry, as its edition says. @param intake what was answered, and what a quiz made of it */
export function nextOf(
  definition: PointDefinition,
  { point, page }: Place,
  entry: string,
  thanks: string,
  { judged, answers }: Pick<Intake, 'judged' | 'answers'>,
): NextView {
  // Who says below the result who they are has it before them.
  if (judged && definition.quiz?.contact !== 'after')
    return { kind: 'result', html: resultOf(definition, { slug: page?.slug ?? point.slug, point: point.slug }, judged, answers, entry) }
  if (judged) return { kind: 'message', text: thanks }
  const { next } = definition
  const returns = returnWays(definition, point.slug, entry)
  const ways = returns.length ? { ways: returns } : {}
  const thankPage = () => ({ kind: 'page' as const, url: here(thanksPath(definition, page?.slug ?? point.slug, entry)) })
  // A landing page has its own thanks, with what the form offers; only another address is something else.
  if (page && next.kind !== 'address') return thankPage()
  switch (next.kind) {
    case 'address':
      return { kind: 'address', url: next.address }
    case 'file':
      return next.file
        ? { kind: 'file', text: thanks, url: here(assetPath(next.file)), name: next.file.name, ...ways }
        : { kind: 'message', text: thanks, ...ways }
    case 'meeting':
      return { kind: 'meeting', text: thanks, url: signedAddress('meet', entry), ...ways }
    case 'page':
      return thankPage()
    default:
      return { kind: 'message', text: thanks, ...ways }
  }
}

/** Where a browser without a script goes after an entry. */
export function placeAfter(definition: PointDefinition, place: Place, entry: string): string {
  const { next } = definition
  return next.kind === 'address' && !definition.quiz ? next.address : thanksPath(definition, place.page?.slug ?? place.point.slug, entry)
}

/** Whether the thanks offer something that only this entry has. */
const returning = ({ returns, next }: PointDefinition) => returns.correct || returns.again || next.kind === 'meeting'
function thanksPath(definition: PointDefinition, slug: string, entry: string): string {
  const query = new URLSearchParams({
    ...(definition.translations.some(t => t.key === definition.language) && { lang: definition.language }),
    ...(definition.quiz ? { e: signedToken('result', entry) } : returning(definition) && { e: signedToken('correct', entry) }),
  }).toString()
  return `/p/${slug}/thanks${query && `?${query}`}`
}

/** Where somebody nameless sees without a script what they came to. */
export const thanksOfNameless = (definition: PointDefinition, slug: string, id: string): string =>
  `/p/${slug}/thanks?${new URLSearchParams({ ...(definition.translations.some(t => t.key === definition.language) && { lang: definition.language }), n: signedToken('result', id) }).toString()}`

const returnWays = ({ returns, language }: PointDefinition, slug: string, entry: string): Way[] => [
  ...(returns.correct ? [{ text: sayIn(language)('correct'), url: signedAddress('correct', entry), small: true }] : []),
  ...(returns.again ? [{ text: sayIn(language)('enterAgain'), url: here(`/p/${slug}`), small: true }] : []),
]

/** The links on a thank-you page. @param token of the entry, as the address has it; anything */
export function waysAfter({ live, slug }: Point, token: unknown): Way[] {
  const { definition } = live!
  const entry = typeof token === 'string' ? idOfToken('correct', token) : null
  const { next } = definition
  const say = sayIn(definition.language)
  return [
    ...(next.kind === 'file' && next.file ? [{ text: say('download', { name: next.file.name }), url: assetPath(next.file) }] : []),
    ...(next.kind === 'meeting' && entry ? [{ text: say('chooseTime'), url: signedAddress('meet', entry) }] : []),
    ...(entry ? returnWays(definition, slug, entry) : []),
  ]
}
