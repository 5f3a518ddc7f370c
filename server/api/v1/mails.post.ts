import { defineEventHandler, sendNoContent } from 'h3'
import { simpleParser } from 'mailparser'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { takeReply } from '#server/follow-up/personal-mail'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { mediaType, readBytes } from '#server/wire'

/** With its files; what is larger is refused. */
const MOST_BYTES = 10 * 1024 * 1024

/** A mail that came in, as it came (RFC 5322): one that answers a mail of ours stands with its lead. The same mail twice is one. */
export default defineEventHandler(async event => {
  await requireKey(event, 'mails:write')
  if (mediaType(event) !== 'message/rfc822') throw problem(415, 'Send the mail as it came, with the content type message/rfc822.')
  const mail = await simpleParser(await readBytes(event, MOST_BYTES), { skipHtmlToText: false, skipTextToHtml: true, skipImageLinks: true })
  const { sql, cache } = applicationContext()
  const taken = await takeReply(sql, await cache.ruleset(), mail)
  if (taken) await say(sql, { leads: [taken.lead], notices: taken.members, jobs: true })
  return sendNoContent(event)
})
