import { addedAction } from '#core/actions/edit'
import type { ActionName, ActionOf } from '#core/actions/shapes'
import { blankDefinition, blankQuestion, type PointDefinition, type Question } from '#core/points/definition'
import type { Mail } from '#core/points/mails'
import { signedIn } from './house'

/** A question of a test. */
export const q = (key: string, kind: Question['kind'], more: Partial<Question> = {}) => blankQuestion({ key, kind, label: key, ...more })
/** A mail of a test. */
export const visitorMail = (key: string, subject: string, text: string, days: number, more: Partial<Mail> = {}): Mail => ({
  key,
  kind: 'mail',
  subject,
  text,
  days,
  goal: null,
  unlessClicked: false,
  when: null,
  ...more,
})
/** Lets a point of a test do something. */
export function does<K extends ActionName>(d: PointDefinition, kind: K, says: Omit<ActionOf<K>, 'key' | 'kind'>): void {
  d.actions = addedAction(d, kind, says).actions
}
let made = 0

/** A live form of its own, made as a marketer makes it. */
export async function form(change: (d: PointDefinition) => void) {
  const as = await signedIn('tamsin')
  const name = `Form ${process.pid} ${++made}`
  const { id } = (await (await as('/api/team/points', 'POST', { name })).json()) as { id: string }
  const definition = blankDefinition(name)
  change(definition)
  const save = async (d: PointDefinition, revision: number) => {
    const answer = await as(`/api/team/points/${id}`, 'PUT', { revision, name, definition: d })
    const body = (await answer.json()) as { revision: number; errors?: { field: string }[] }
    return { status: answer.status, ...body }
  }
  const saved = await save(definition, 1)
  const publish = async (revision: number) => {
    const answer = await as(`/api/team/points/${id}/publish`, 'POST', { revision })
    return { status: answer.status, body: (await answer.json()) as { key: string; slug: string; errors?: { field: string }[] } }
  }
  const live = await publish(saved.revision)
  return { id, key: live.body.key, slug: live.body.slug, definition, save, publish, as, revision: saved.revision }
}
