import type { ActionFlaw, ActionKind } from '#core/actions/action'
import { changedAction, withoutAction } from '#core/actions/edit'
import { asksForGone } from '#core/actions/only-if'
import type { TellColleagues } from '#core/actions/kinds/tell/shape'
import { announcementFor } from '#core/capture/announcement'
import { attributesForMails, fillIn, knownPlaceholders, placeholdersIn } from '#core/points/mails'
import { oneLine } from '#core/text'

export const tell: ActionKind<TellColleagues> = {
  moment: 'told',
  // Each colleague once, whatever names them; those who do not work here any more are left out.
  act({ members, subject, text }, acting) {
    const { rules, tools, step } = acting
    const told = new Set([step.lead.ownerId, ...step.notified.map(n => n.to)])
    const words = attributesForMails(step)
    for (const to of members) {
      if (told.has(to) || !rules.members.has(to)) continue
      told.add(to)
      const own = announcementFor(step)
      step.notified.push({
        ...own,
        id: tools.newId(step.intake.at),
        to,
        subject: oneLine(fillIn(subject, words), 180) || own.subject,
        text: fillIn(text, words) || own.text,
      })
    }
  },
  flaws({ key, members, when, subject, text }, definition, around) {
    const found: ActionFlaw[] = []
    const here = (id: string) => !around.members || around.members.includes(id)
    if (!members.some(here))
      found.push({
        field: 'members',
        message: 'Nobody is chosen to be told. Choose a colleague, or take it out.',
        mend: { name: 'Take it out', apply: withoutAction(key) },
      })
    const used = placeholdersIn(`${subject}\n${text}`)
    const strange = used?.find(name => !knownPlaceholders(definition, 'inside').includes(name))
    if (used === null)
      found.push({
        field: 'subject',
        message: 'A placeholder in what colleagues are told is not closed: two braces open it, and two close it.',
      })
    else if (strange !== undefined)
      found.push({ field: 'subject', message: `What colleagues are told has a placeholder “${strange}”, which stands for nothing.` })
    if (asksForGone(when, definition))
      found.push({
        field: 'when',
        message: 'A colleague is told by the answer to a question that was taken out.',
        mend: { name: 'Always tell them', apply: changedAction<TellColleagues>(key, { when: null }) },
      })
    return found
  },
  says: ({ members, when }, names) => `${members.map(names.member).join(', ') || 'nobody'} is told${when ? ', if a condition holds' : ''}`,
}
