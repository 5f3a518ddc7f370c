import { describe, expect, it } from 'vitest'
import { askedBy, formsOf, textFlaw } from '#core/languages/check'
import { directionOf, LANGUAGE_KEYS } from '#core/languages/language'
import { sayIn, TEXTS, useOwnTexts, type TextKey } from '#core/languages/say'
import { checksOf } from '#core/points/checks'
import { blankDefinition, blankQuestion, publicPoint } from '#core/points/definition'
import { inLanguage } from '#core/points/in-language'
import { formMarkup } from '#core/points/markup'
import { renameQuestion } from '#core/points/questions'
import { addLanguage, inTongue, languagesOf, translatable, translate, untranslated } from '#core/points/translations'
import { readValue, PLAIN_READING } from '#core/points/values'

const KEYS = Object.keys(TEXTS.en) as TextKey[]
const OTHERS = LANGUAGE_KEYS.filter(l => l !== 'en')
/** What is the same in English and elsewhere, and right all the same. */
const ALIKE: Record<string, TextKey[]> = { es: ['no'] }

describe.each(OTHERS)('the texts in %s', language => {
  it('are all there, and in that language', () => {
    expect(Object.keys(TEXTS[language])).toEqual(KEYS)
    expect(KEYS.filter(key => !TEXTS[language][key].trim() || TEXTS[language][key] === TEXTS.en[key])).toEqual(ALIKE[language] ?? [])
    const latin = (text: string) => text.replace(/\{[^{}]*\}|Cavlin|[\w.-]*@?firm\.example|https:\/\/\S+|\bname\b/g, '')
    if (language === 'ar')
      expect(KEYS.filter(key => /[a-z]{4,}/i.test(latin(TEXTS.ar[key].replace(/\{n, plural,|zero|one|two|few|many|other/g, ''))))).toEqual(
        [],
      )
  })
  it('ask for the same values as in English, with all the plural forms of the language', () => {
    for (const key of KEYS) {
      const [english, own] = [askedBy(TEXTS.en[key])!, askedBy(TEXTS[language][key])]
      expect([key, own?.values]).toEqual([key, english.values])
      expect([key, own!.plurals.length]).toEqual([key, english.plurals.length])
      for (const forms of own!.plurals)
        expect([key, formsOf(language).filter(f => !forms.includes(f) && !(language === 'fr' && f === 'many'))]).toEqual([key, []])
    }
  })
})

describe('our texts', () => {
  it('say numbers as the language does', () => {
    const files = (language: (typeof LANGUAGE_KEYS)[number]) =>
      [1, 2, 3, 5, 11, 22, 100].map(n => sayIn(language)('leastFiles', { n }).replace(/.*? (?=\d)|\.$/g, ''))
    expect(files('en')).toEqual(['1 file', '2 files', '3 files', '5 files', '11 files', '22 files', '100 files'])
    expect(files('pl')).toEqual(['1 plik', '2 pliki', '3 pliki', '5 plików', '11 plików', '22 pliki', '100 plików'])
    expect([1, 2, 3, 5, 11, 22, 100].map(n => sayIn('ar')('leastFiles', { n }).slice('اختر على الأقل '.length, -1))).toEqual([
      'ملفًا واحدًا',
      'ملفين',
      '3 ملفات',
      '5 ملفات',
      '11 ملفًا',
      '22 ملفًا',
      '100 ملف',
    ])
  })
  it('may be a house’s own, as long as they say what only the moment knows', () => {
    try {
      useOwnTexts({ de: { send: 'Los', chooseFile: 'Bitte eine Datei' } })
      expect([sayIn('de')('send'), sayIn('en')('send'), sayIn('de')('back')]).toEqual(['Los', 'Send', 'Zurück'])
    } finally {
      useOwnTexts({})
    }
    expect(textFlaw('leastFiles', 'en', 'Give us {n} files')).toBeNull()
    expect(textFlaw('leastFiles', 'en', 'Give us files')).toContain('{n}')
    expect(textFlaw('send', 'en', 'Send {name}')).toContain('{name}')
    expect(textFlaw('send', 'en', 'Send {')).toContain('brace')
    expect(textFlaw('leastFiles', 'pl', '{n, plural, one {plik}}')).toBeTruthy()
    // What is taken is said, whatever it is; what could not be said is refused.
    for (const wrong of ['{day, date}', '{day, number}', '{day, plural, other {#}}', '{day, select, a {x} other {y}}'])
      expect([wrong, textFlaw('firstDay', 'en', wrong)]).toEqual([wrong, expect.stringContaining('{day} stands for text')])
    expect(textFlaw('leastFiles', 'en', '{n, number}')).toContain('only the plural')
    try {
      const own = 'From <b>{day}</b> on'
      expect(textFlaw('firstDay', 'en', own)).toBeNull()
      useOwnTexts({ en: { firstDay: own } })
      expect(sayIn('en')('firstDay', { day: '2026-05-01' })).toBe('From <b>2026-05-01</b> on')
    } finally {
      useOwnTexts({})
    }
  })
})

describe('a form in another language', () => {
  it('speaks it: what is ours, its errors, its countries, and which way it is written', () => {
    const d = inLanguage({ ...blankDefinition('طلب زيارة'), intro: 'أهلًا' }, 'ar')
    expect([d.button, d.thanks]).toEqual([TEXTS.ar.send, TEXTS.ar.thanks])
    expect(inLanguage({ ...d, button: 'Mine' }, 'fr')).toMatchObject({ button: 'Mine', thanks: TEXTS.fr.thanks })
    const html = formMarkup(
      publicPoint('k', 1, {
        ...d,
        questions: [...d.questions, { ...d.questions[0]!, key: 'land', kind: 'country', required: false, property: null }],
      }),
      { action: '' },
    )
    expect(html).toMatch(/<form class="cv" lang="ar" dir="rtl"/)
    expect(html).toContain(TEXTS.ar.optional)
    expect(html).toContain('>ألمانيا</option>')
    expect(readValue({ kind: 'email' } as never, 'x', { ...PLAIN_READING, say: sayIn('ar') })).toEqual({ flaw: TEXTS.ar.notEmail })
    expect(LANGUAGE_KEYS.filter(l => directionOf(l) === 'rtl')).toEqual(['ar'])
  })
})

describe('a form in several languages', () => {
  const form = () =>
    addLanguage(
      {
        ...blankDefinition('Visit'),
        intro: 'Come',
        confirm: { subject: 'Yours?', text: 'Press {{link}}', done: 'Good', then: { kind: 'message' } },
      },
      'fr',
    )
  it('has the same keys in other words, and its own where nothing is written', () => {
    const d = translate(translate(form(), 'fr', 'title', 'Visite'), 'fr', 'questions.email.label', 'Votre adresse')
    expect(inTongue(d, 'fr')).toMatchObject({
      language: 'fr',
      title: 'Visite',
      intro: 'Come',
      button: TEXTS.fr.send,
      thanks: TEXTS.fr.thanks,
      questions: [{ key: 'email', label: 'Votre adresse' }],
    })
    expect([inTongue(d, 'de'), inTongue(d, 'en')]).toEqual([d, d])
    expect(untranslated(d, 'fr').map(t => t.path)).toEqual(['intro', 'confirm.subject', 'confirm.text', 'confirm.done'])
    expect(translate(d, 'fr', 'title', '').translations[0]!.texts).toHaveLength(1)
    expect(renameQuestion(d, 'email', 'post').translations[0]!.texts.map(t => t.key)).toEqual(['title', 'questions.post.label'])
    // What becomes its own language needs no translation into it.
    expect(languagesOf(inLanguage(d, 'fr'))).toEqual(['fr'])
  })
  it('is stopped where another language lacks what its own has, and hinted at what is not written', () => {
    const around = { properties: [], lists: [], labels: [], members: [] } as never
    const said = (d: ReturnType<typeof form>) =>
      checksOf(d, around)
        .filter(c => c.field === 'translations.fr')
        .map(c => [c.level, c.message])
    expect(said(form())).toEqual([['hint', 'In Français 6 texts are not written yet, and shown in English.']])
    expect(said(translate(form(), 'fr', 'confirm.text', 'Appuyez'))[0]).toEqual([
      'stop',
      'In Français: The request to confirm has no link: nobody could confirm.',
    ])
  })
  it('has every text in every place that visitors read', () => {
    const d = {
      ...form(),
      questions: [blankQuestion({ key: 'a', kind: 'one_of', label: 'A', help: 'H', error: 'E', choices: [{ value: 'x', text: 'X' }] })],
    }
    const spoken = inTongue(
      translatable(d).reduce((now, t) => translate(now, 'fr', t.path, `fr ${t.text}`), d),
      'fr',
    )
    expect(translatable(spoken).map(t => t.text)).toEqual(translatable(d).map(t => `fr ${t.text}`))
  })
})
