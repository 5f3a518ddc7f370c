import { partsOf } from '#core/mails/template'
import type { ActionFlaw, ActionKind } from '#core/actions/action'
import { changedAction, mailsOf } from '#core/actions/edit'
import { asksForGone } from '#core/actions/only-if'
import type { PointDefinition } from '#core/points/definition'
import type { SendMail } from '#core/actions/kinds/mail/shape'
import { textFlaws, writeMail } from '#core/points/mails'

export const mail: ActionKind<SendMail> = {
  moment: 'told',
  act(mail, acting) {
    const { tools, step } = acting
    const { which } = step.intake.edition.definition.mailing
    if (which === 'first' && step.mails.some(m => m.kind === 'mail')) return
    const written = writeMail(step, mail, tools.newId, tools.sign)
    if (written) step.mails.push(written)
  },
  flaws(mail, definition) {
    const all = mailsOf(definition)
    const at = all.findIndex(m => m.key === mail.key)
    const called = all.length > 1 ? `Mail ${at + 1}` : 'The mail'
    const found: ActionFlaw[] = textFlaws(definition, { name: called, kind: mail.goal ? 'mail with goal' : 'mail', text: mail })
    if (mail.unlessClicked && !all.slice(0, at).some(m => m.goal)) {
      const mend = { name: 'Send it to all', apply: changedAction<SendMail>(mail.key, { unlessClicked: false }) }
      found.push({
        field: 'unlessClicked',
        message: `${called} is for those who followed no link before, and no mail before it has one.`,
        mend,
      })
    }
    if (asksForGone(mail.when, definition)) {
      const mend = { name: 'Send it to all', apply: changedAction<SendMail>(mail.key, { when: null }) }
      found.push({ field: 'when', message: `${called} goes by the answer to a question that was taken out.`, mend })
    }
    if (definition.mailing.which === 'first' && all.slice(0, at).some(m => m.when === null)) {
      const mend = {
        name: 'Send all that fit',
        apply: (d: PointDefinition) => ({ ...d, mailing: { ...d.mailing, which: 'all' as const } }),
      }
      found.push({
        field: 'when',
        message: `${called} goes to nobody: one before it fits everybody, and only the first that fits goes out.`,
        mend,
      })
    }
    return found
  },
  says: ({ subject, days, when }) =>
    `gets the mail “${inWords(subject)}” ${days === 0 ? 'at once' : days === 1 ? 'a day later' : `${days} days later`}${when ? ', if a condition holds' : ''}`,
}

/** A subject without braces: what stands for nobody yet is what it says then, or dots. */
const inWords = (subject: string): string =>
  partsOf(subject)
    .map(part => (typeof part === 'string' ? part : part.fallback || '…'))
    .join('')
