import { convert } from 'html-to-text'
import { mailLook, type MailLook } from '#core/mails/look'
import { inline, mailMarkup, mailOnSheet, mailPage } from '#core/mails/markup'
import { HOUSE_THEME } from '#core/points/theme'
import { escapeHtml as e } from '#core/text'
import type { InHand } from '#db/deliveries'
import type { Bodies } from '#server/deliveries/bodies'
import { sayIn } from '#core/languages/say'

/** A mail to a visitor, whose body is Markdown, as text and as HTML, with the way to leave. @param base where pictures come from */
export function visitorBodies({ body, kind, look }: Pick<InHand, 'body' | 'kind' | 'look'>, leave: string, base: string): Bodies {
  const own = look ?? mailLook(HOUSE_THEME, 'en')
  const say = sayIn(own.language)
  if (kind === 'test') return bodies(body, own, base, 'This is a test, sent to you alone. Its links lead to the form.')
  if (kind === 'confirm') return bodies(body, own, base, say('mailConfirmFoot'), { press: say('mailConfirm') })
  return bodies(body, own, base, say('mailLeave'), { leave })
}

function bodies(
  body: string,
  own: MailLook,
  base: string,
  ending: string,
  { press, leave }: { press?: string; leave?: string } = {},
): Bodies {
  const wear = inline(own)
  const foot = leave ? `<a href="${e(leave)}"${wear('link')}>${e(ending)}</a>.` : e(ending)
  return {
    text: `${plainText(mailMarkup(body, wear))}\n\n--\n${leave ? `${ending}: ${leave}` : ending}\n`,
    html: mailPage(mailOnSheet(mailMarkup(body, wear, press), foot, own, wear, base), own.language, wear),
  }
}

/** For programs that show no HTML: the words, addresses behind them, and lists as lists. */
const plainText = (html: string): string =>
  convert(html, {
    wordwrap: false,
    selectors: [
      { selector: 'a', options: { hideLinkHrefIfSameAsText: true, linkBrackets: ['(', ')'] } },
      { selector: 'h2', options: { uppercase: false } },
    ],
  })
