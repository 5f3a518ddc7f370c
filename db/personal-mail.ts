import type { Db, Tx } from '#db/client'

/** Writes a mail of one of us to one person. */
export const insertPersonal = (tx: Tx, m: { id: string; lead: string; recipient: string; recipientName: string; subject: string; text: string; fromName: string; replyTo: string }) => tx`
  insert into delivery (id, lead_id, kind, at, due_at, recipient, recipient_name, subject, body, days, from_name, reply_to)
  values (${m.id}, ${m.lead}, 'personal', now(), now(), ${m.recipient}, ${m.recipientName}, ${m.subject}, ${m.text}, 0, ${m.fromName}, ${m.replyTo})`

/** Whom a mail of ours went to; undefined when there is none like it. */
export const personalById = async (db: Db, id: string): Promise<{ leadId: string; recipient: string | null } | undefined> =>
  (await db<{ leadId: string; recipient: string | null }[]>`select lead_id, recipient from delivery where id = ${id} and kind = 'personal' and lead_id is not null`)[0]

/** Notes that a mail came in. @returns false when it had before */
export const noteReply = async (tx: Tx, r: { id: string; messageId: string; delivery: string; lead: string }): Promise<boolean> =>
  (await tx`insert into reply (id, message_id, delivery_id, lead_id) values (${r.id}, ${r.messageId}, ${r.delivery}, ${r.lead}) on conflict (message_id) do nothing returning 1`).length > 0
