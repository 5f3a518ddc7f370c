/** A filled mail as a test to oneself: its links lead to the form itself, for what they sign is known only when somebody has answered. */
export const asMailTest = <M extends { subject: string; text: string }>({ subject, text }: M, slug: string) => ({
  subject,
  text: text.replace(/<https?:\/\/[^\s<>/]+\/(?:c|go|e|p)\/[^\s<>]*>/g, `<${window.location.origin}/p/${slug}>`),
})

/** Sends mails of a form to whoever is signed in. @returns where they go @throws ApiError */
export const sendMailTest = async (point: string, mails: { subject: string; text: string }[]): Promise<string> =>
  (await api<{ to: string }>(`/api/team/points/${point}/mail-test`, { method: 'POST', body: { mails } })).to
