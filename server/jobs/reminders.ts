import { mailLook } from '#core/mails/look'
import { nameOf } from '#core/leads/lead'
import { answerText } from '#core/points/definition'
import { fillSubject, fillText } from '#core/points/mails'
import { mayRemind } from '#core/points/reminder'
import { completed } from '#core/points/shapes/definition'
import type { Sql } from '#db/client'
import { insertReminder } from '#db/mails'
import { siteSettings } from '#db/trail'
import { leftUnfinished, reminded } from '#db/unfinished'
import { newId } from '#server/ids'
import { ownAddress } from '#server/settings'

const AT_ONCE = 50

/**
 * Writes reminders for what was left unfinished long enough, each once, where the house allows it and the person agreed.
 * They go out with the mails.
 * @returns how many were written
 */
export async function writeReminders(sql: Sql, now: Date): Promise<number> {
  const { mailUnfinished } = await siteSettings(sql)
  if (!mailUnfinished) return 0
  return await sql.begin(async tx => {
    let written = 0
    for (const u of await leftUnfinished(tx, now, AT_ONCE)) {
      const definition = completed(u.definition)
      await reminded(tx, u.id, now)
      if (
        !mayRemind(definition, u.answers, {
          allowed: mailUnfinished,
          agreedBefore: u.agreedBefore,
          unsubscribed: u.unsubscribedAt !== null,
        })
      )
        continue
      const attributes = {
        lead: {
          email: u.email,
          first_name: u.firstName ?? '',
          last_name: u.lastName ?? '',
          name: nameOf({ ...u, properties: {} }),
          company: u.company ?? '',
        },
        answer: Object.fromEntries(
          definition.questions.flatMap(q =>
            u.answers[q.key] === undefined ? [] : [[q.key, answerText(q, u.answers[q.key]!, definition.language)]],
          ),
        ),
        point: { name: u.name, title: definition.title },
        link: `${ownAddress()}/p/${u.slug}`,
        again: '',
        correct: '',
        quiz: {},
      }
      const { subject, text } = definition.reminder!
      await insertReminder(tx, {
        id: newId(now.getTime()),
        lead: u.leadId,
        unfinished: u.id,
        recipient: u.email,
        subject: fillSubject(subject, attributes),
        text: fillText(text, attributes),
        look: mailLook(definition.theme, definition.language),
        from: definition.mailing,
      })
      written++
    }
    return written
  })
}
