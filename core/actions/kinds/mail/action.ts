import type { ActionFlaw, ActionKind } from '#core/actions/action'
import { changedAction, mailsOf } from '#core/actions/edit'
import type { SendMail } from '#core/actions/kinds/mail/shape'
import { textFlaws, writeMail } from '#core/points/mails'

export const mail: ActionKind<SendMail> = {
  moment: 'told',
  act(mail, { tools, step }) {
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
    return found
  },
  says: ({ subject, days }) => `gets the mail “${subject}” ${days === 0 ? 'at once' : days === 1 ? 'a day later' : `${days} days later`}`,
}
