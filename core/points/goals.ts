import { changedAction, mailsOf } from '#core/actions/edit'
import type { PointDefinition } from '#core/points/definition'
import type { Goal, Mail } from '#core/points/mails'
import type { Confirmed, Next } from '#core/points/next'
import type { SentFile } from '#core/points/shapes/theme'

/** Something of a point that leads visitors on: the thanks, the words after confirming, the link of a mail (by its key). */
export interface GoalPlace {
  place: string
  called: string
  goal: Next
}

/** What leads visitors on, in the order in which they come to it. */
export function goalPlaces(d: PointDefinition): GoalPlace[] {
  return [
    { place: 'thanks', called: 'the thanks', goal: d.next },
    ...(d.confirm ? [{ place: 'confirm', called: 'the words after confirming', goal: d.confirm.then }] : []),
    ...mailsOf(d).map((mail, i) => ({
      place: `mail ${mail.key}`,
      called: `mail ${i + 1}`,
      goal: mail.goal ?? { kind: 'message' as const },
    })),
  ]
}

/** The file that a point hands over somewhere already. */
export const fileHandedOver = (d: PointDefinition): SentFile | null =>
  goalPlaces(d).flatMap(({ goal }) => (goal.kind === 'file' && goal.file ? [goal.file] : []))[0] ?? null

/** How the other places are called that hand over the same file as this one. */
export function alsoIn(d: PointDefinition, place: string): string[] {
  const places = goalPlaces(d)
  const here = fileOf(places.find(p => p.place === place)?.goal)
  return here ? places.filter(p => p.place !== place && fileOf(p.goal)?.id === here.id).map(p => p.called) : []
}

/**
 * Lets a place lead somewhere else. A file is chosen once: a place that begins to hand one over takes
 * what another has, and a file put in place of another goes everywhere that had the same or none yet.
 * @param alone a file that is put here stands here only
 */
export function leadTo(d: PointDefinition, place: string, goal: Next, alone = false): PointDefinition {
  const before = goalPlaces(d).find(p => p.place === place)
  if (!before) return d
  if (goal.kind !== 'file') return placed(d, place, goal)
  if (before.goal.kind !== 'file') return placed(d, place, goal.file ? goal : { kind: 'file', file: fileHandedOver(d) })
  const [old, file] = [before.goal.file, goal.file]
  const led = placed(d, place, goal)
  if (!file || alone) return led
  return goalPlaces(led).reduce((all, other) => {
    const theirs = fileOf(other.goal)
    return other.goal.kind === 'file' && (!theirs || theirs.id === old?.id) ? placed(all, other.place, { kind: 'file', file }) : all
  }, led)
}

const fileOf = (goal: Next | undefined): SentFile | null => (goal?.kind === 'file' ? goal.file : null)

function placed(d: PointDefinition, place: string, goal: Next): PointDefinition {
  if (place === 'thanks') return { ...d, next: goal }
  if (place === 'confirm') return { ...d, confirm: d.confirm && { ...d.confirm, then: goal as Confirmed } }
  const mail = mailsOf(d).find(m => `mail ${m.key}` === place)
  return mail ? changedAction<Mail>(mail.key, mailLeading(mail, goal))(d) : d
}

/** With a link to follow its place stands in the text; without one it goes out of it. */
function mailLeading({ text }: Mail, next: Next): Pick<Mail, 'goal' | 'text'> {
  if (next.kind === 'message')
    return { goal: null, text: text.replace(/\[((?:\\.|[^\]\\])*)\]\(\{\{link\}\}\)/g, '$1').replace(/\n*\{\{link\}\}/g, '') }
  return { goal: next as Goal, text: text.includes('{{link}}') ? text : `${text.trimEnd()}\n\n{{link}}` }
}
