import { getSchema } from '@tiptap/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { templateExtensions } from '../../app/editor/extensions'
import { lineCodec, markdownCodec } from '../../app/editor/template-doc'
import { mailLook } from '#core/mails/look'
import { byClass, mailMarkup, mailSheet, mailOnSheet } from '#core/mails/markup'
import { withAnswers } from '#core/mails/sample'
import { asMarkdown, fromMarkdown, partsOf, placeholderText } from '#core/mails/template'
import { fillSubject, fillText, unguardedIn, type Attributes } from '#core/points/mails'
import { HOUSE_THEME } from '#core/points/theme'

const LINKS = {
  link: 'https://house.example/go/abc_def__ghi.1',
  again: 'https://house.example/p/x?k=a_b_c',
  quiz: {},
  correct: 'https://house.example/e/1',
}
const who = (first: string, said = ''): Attributes => ({
  lead: { first_name: first, last_name: '', name: first, company: '', email: 'a.b@guests.example' },
  answer: { words: said },
  point: { name: 'P', title: 'T' },
  ...LINKS,
})
const html = (text: string) => mailMarkup(text, byClass)
/** What somebody reads of HTML. */
const read = (markup: string) =>
  markup
    .replace(/<br>/g, '')
    .replace(/<[^>]+>/g, '')
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&amp;/g, '&')
const bare = (text: string) => text.replace(/[\s\u2060]+/g, '')

/** What people who mean no good, or nothing at all, type. */
const typed = fc.oneof(
  fc.string({ maxLength: 60 }),
  fc
    .array(
      fc.constantFrom(
        '*',
        '_',
        '**',
        '[',
        '](',
        ')',
        'http://',
        'www.bad.example',
        '<',
        '>',
        '<b>',
        '\n',
        '\n\n',
        '    ',
        '\t',
        '# ',
        '- ',
        '1. ',
        '1)',
        '`',
        '~',
        '&amp;',
        '\\',
        '{{link}}',
        '{{',
        '}}',
        'a',
        ' ',
        '!',
        '|',
        '---',
        '===',
        '<https://bad.example>',
      ),
      { maxLength: 12 },
    )
    .map(parts => parts.join('')),
)

describe('what was typed', () => {
  it('is text in a mail, whatever it is, and leads nowhere', () => {
    fc.assert(
      fc.property(typed, typed, (first, said) => {
        const drawn = html(fillText('Hello {{lead.first_name}},\n\n**you said** {{answer.words}}', who(first, said)))
        expect(drawn.replace(/<\/?(?:p|strong|br)(?: class="mail-paragraph")?>/g, '')).not.toMatch(/[<>]/)
        expect(drawn).not.toContain('<a')
      }),
    )
  })
  it('reads as it was typed', () => {
    fc.assert(
      fc.property(
        typed.filter(t => !t.includes('\r') && !t.includes('\0')),
        said => {
          expect(bare(read(html(asMarkdown(said))))).toBe(bare(said))
          expect(fromMarkdown(asMarkdown(said))).toBe(said.replace(/^[^\S\n]+/gm, ''))
        },
      ),
    )
  })
  it('that begins a subject and is not known takes the comma behind it along', () => {
    expect(['', 'ida'].map(first => fillSubject('{{lead.first_name}}, here it is', who(first)))).toEqual(['Here it is', 'ida, here it is'])
  })
  it('leaves no trace of emphasis where it is nothing, and what stands in for it stands there', () => {
    expect(html(fillText('Of **{{lead.company}}**, *{{lead.last_name}}*, **{{lead.first_name}}**.', who('Ida')))).toBe(
      '<p class="mail-paragraph">Of , , <strong>Ida</strong>.</p>\n',
    )
    const hello = 'Hello {{lead.first_name}}{{^lead.first_name}}you \\*there\\*{{/lead.first_name}}'
    expect([
      fillSubject('For {{lead.first_name}}{{^lead.first_name}}you{{/lead.first_name}}', who('')),
      read(html(fillText(hello, who('')))).trim(),
      read(html(fillText(hello, who('Ida')))).trim(),
    ]).toEqual(['For you', 'Hello you *there*', 'Hello Ida'])
    expect(unguardedIn('{{lead.name}}{{^lead.name}}x{{/lead.name}} {{lead.company}} {{#lead.email}}{{lead.email}}{{/lead.email}}')).toEqual(
      ['lead.company'],
    )
  })
})

describe('a mail', () => {
  it('has its own addresses as links, and a link that stands alone as a button', () => {
    expect(html(fillText('Here: {{link}} or [correct it]({{correct}})', who('')))).toBe(
      `<p class="mail-paragraph">Here: <a href="${LINKS.link}" class="mail-link">${LINKS.link}</a> or <a href="${LINKS.correct}" class="mail-link">correct it</a></p>\n`,
    )
    expect(html(fillText('[Read it]({{link}})', who('')))).toContain(`<a href="${LINKS.link}" class="mail-button">Read it</a>`)
    expect(mailMarkup(fillText('{{link}}', who('')), byClass, 'Yes')).toBe(
      `<p class="mail-paragraph"><a href="${LINKS.link}" class="mail-button">Yes</a><br><span class="mail-under">${LINKS.link}</span></p>\n`,
    )
    expect(html('[x](javascript:alert) [y](data:text/html,x) <script>1</script>')).not.toMatch(/<a|<script/)
  })
  it('wears the look of its point, its picture over it', () => {
    const look = mailLook(
      {
        ...HOUSE_THEME,
        sheet: '#101010',
        ink: '#f0f0f0',
        accent: '#ffcc00',
        logo: { file: { id: '0', name: 'a.png' }, width: 880, height: 128, alt: 'A <house>' },
      },
      'ar',
    )
    expect([look.onAccent, look.logo]).toMatchObject(['#000000', { width: 220, height: 32 }])
    expect(mailSheet(look)).toContain(
      '.mail-button{display:inline-block;padding:11px 20px;border-radius:4px;background:#ffcc00;color:#000000',
    )
    expect(mailOnSheet('', '', look, byClass, 'https://house.example')).toMatch(
      /<img src="https:\/\/house\.example\/\S+" alt="A &#60;house&#62;" width="220" height="32">/,
    )
  })
  it('goes to somebody by what they answered, and by what is known of them', () => {
    const answer = { attribute: 'answer.size', is: 'equal' as const, value: 'l' }
    const known = { attribute: 'label', is: 'equal' as const, value: 'hot' }
    expect(withAnswers({ all: [answer, { none: [known] }] }, { size: 'l' })).toEqual({ all: [{ all: [] }, { none: [known] }] })
    expect(withAnswers({ any: [answer, known] }, {})).toEqual({ any: [{ any: [] }, known] })
  })
})

describe('the editor of a text', () => {
  const text = markdownCodec(getSchema(templateExtensions('text')))
  const line = lineCodec(getSchema(templateExtensions('line')))
  it('keeps a text that nobody changed, placeholders and all', () => {
    for (const t of [
      '',
      'Hello {{lead.first_name}}{{^lead.first_name}}there{{/lead.first_name}},\n\nhere it is:\n\n{{link}}\n\nTwo\nlines.',
      '## Head\n\n**Bold** and *slanted* **{{lead.name}}**\n\n- one\n- two\n\n3. three\n4. four',
      '[Correct it]({{correct}}) or <https://house.example/a_b>, or [read](<https://house.example/x>)',
      '{{#lead.company}}At {{lead.company}}.{{/lead.company}}',
      '5\\. no list\n\\# no head, 2 \\* 3, a\\_b, \\[x\\]',
    ])
      expect(text.write(text.read(t))).toBe(t)
  })
  it('loses no letter on the way into a text and back, whatever is typed into it', () => {
    // Braces that were escaped by hand are braces that somebody typed: they mean a placeholder the next time.
    fc.assert(
      fc.property(
        typed.filter(t => !t.includes('\\{') && !t.includes('<http:')),
        t => {
          // Emphasis that ends in a sign before a letter cannot be written (CommonMark 0.31, 6.2): its stars show; and empty lists in lists become signs. No letter is lost.
          const letters = (doc: { textContent: string }) => bare(doc.textContent).replace(/[-+*_.)\d]/g, '')
          const doc = text.read(t)
          const again = text.read(text.write(doc))
          expect([letters(again), letters(text.read(text.write(again)))]).toEqual([letters(doc), letters(doc)])
        },
      ),
    )
  })
  it('lets letters be letters', () => {
    const { schema } = text.read('').type
    fc.assert(
      fc.property(fc.array(typed.map(t => t.replace(/[\r\n\0{}]/g, '').trim()).filter(Boolean), { minLength: 1, maxLength: 3 }), lines => {
        const doc = schema.node('doc', null, [
          schema.node(
            'paragraph',
            null,
            lines.flatMap((l, i) => [...(i ? [schema.node('hardBreak')] : []), schema.text(l)]),
          ),
        ])
        expect(text.read(text.write(doc)).textContent).toBe(doc.textContent)
        expect(text.read(text.write(doc)).childCount).toBe(1)
      }),
    )
  })
  it('of a line keeps every letter', () => {
    fc.assert(
      fc.property(
        typed.map(t => t.replace(/\s*\n\s*/g, ' ')),
        t => {
          expect(
            partsOf(t)
              .map(p => (typeof p === 'string' ? p : placeholderText(p)))
              .join('')
              .replace(/\s/g, ''),
          ).toBe(line.write(line.read(t)).replace(/\s/g, ''))
          if (!t.includes('{{')) expect(line.write(line.read(t))).toBe(t)
        },
      ),
    )
  })
})
