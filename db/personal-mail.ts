import type { Db, Tx } from '#db/client'

/** Writes a mail of one of us to one person. */
export const insertPersonal = (
  tx: Tx,
  m: {
    id: string
    lead: string
    recipient: string
    recipientName: string
    subject: string
    text: string
    fromName: string
    replyTo: string
    conversation?: string
  },
) => tx`
  insert into delivery (id, lead_id, kind, at, due_at, recipient, recipient_name, subject, body, days, from_name, reply_to, conversation_id)
  values (${m.id}, ${m.lead}, 'personal', now(), now(), ${m.recipient}, ${m.recipientName}, ${m.subject}, ${m.text}, 0, ${m.fromName}, ${m.replyTo}, ${m.conversation ?? null})`

export interface PersonalMail {
  leadId: string
  recipient: string | null
  /** The one that it goes on with. */
  conversationId: string | null
}
/** Whom a mail of ours went to; undefined when there is none like it. */
export const personalById = async (db: Db, id: string): Promise<PersonalMail | undefined> =>
  (
    await db<
      PersonalMail[]
    >`select lead_id, recipient, conversation_id from delivery where id = ${id} and kind = 'personal' and lead_id is not null`
  )[0]

/** Notes that a mail came in. @returns false when it had before */
export const noteReply = async (tx: Tx, r: { id: string; messageId: string; delivery: string; lead: string }): Promise<boolean> =>
  (
    await tx`insert into reply (id, message_id, delivery_id, lead_id) values (${r.id}, ${r.messageId}, ${r.delivery}, ${r.lead}) on conflict (message_id) do nothing returning 1`
  ).length > 0
