import { describe, expect, it } from 'vitest'
import { askedBy, formsOf, textFlaw } from '#core/languages/check'
import { directionOf, LANGUAGE_KEYS } from '#core/languages/language'
import { sayIn, TEXTS, useOwnTexts, type TextKey } from '#core/languages/say'
import { blankDefinition, publicPoint } from '#core/points/definition'
import { inLanguage } from '#core/points/in-language'
import { formMarkup } from '#core/points/markup'
import { readValue, PLAIN_READING } from '#core/points/values'

const KEYS = Object.keys(TEXTS.en) as TextKey[]
const OTHERS = LANGUAGE_KEYS.filter(l => l !== 'en')
/** What is the same in English and elsewhere, and right all the same. */
const ALIKE: Record<string, TextKey[]> = { es: ['no'] }

describe.each(OTHERS)('the texts in %s', (language) => {
  it('are all there, and in that language', () => {
    expect(Object.keys(TEXTS[language])).toEqual(KEYS)
    expect(KEYS.filter(key => !TEXTS[language][key].trim() || TEXTS[language][key] === TEXTS.en[key])).toEqual(ALIKE[language] ?? [])
    const latin = (text: string) => text.replace(/\{[^{}]*\}|Cavlin|[\w.-]*@?firm\.example|https:\/\/\S+|\bname\b/g, '')
    if (language === 'ar') expect(KEYS.filter(key => /[a-z]{4,}/i.test(latin(TEXTS.ar[key].replace(/\{n, plural,|zero|one|two|few|many|other/g, ''))))).toEqual([])
  })
  it('ask for the same values as in English, with all the plural forms of the language', () => {
    for (const key of KEYS) {
      const [english, own] = [askedBy(TEXTS.en[key])!, askedBy(TEXTS[language][key])]
      expect([key, own?.values]).toEqual([key, english.values])
      expect([key, own!.plurals.length]).toEqual([key, english.plurals.length])
      for (const forms of own!.plurals) expect([key, formsOf(language).filter(f => !forms.includes(f) && !(language === 'fr' && f === 'many'))]).toEqual([key, []])
    }
  })
})

describe('our texts', () => {
  it('say numbers as the language does', () => {
    const files = (language: (typeof LANGUAGE_KEYS)[number]) => [1, 2, 3, 5, 11, 22, 100].map(n => sayIn(language)('leastFiles', { n }).replace(/.*? (?=\d)|\.$/g, ''))
    expect(files('en')).toEqual(['1 file', '2 files', '3 files', '5 files', '11 files', '22 files', '100 files'])
    expect(files('pl')).toEqual(['1 plik', '2 pliki', '3 pliki', '5 plików', '11 plików', '22 pliki', '100 plików'])
    expect([1, 2, 3, 5, 11, 22, 100].map(n => sayIn('ar')('leastFiles', { n }).slice('اختر على الأقل '.length, -1))).toEqual(['ملفًا واحدًا', 'ملفين', '3 ملفات', '5 ملفات', '11 ملفًا', '22 ملفًا', '100 ملف'])
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
  })
})

describe('a form in another language', () => {
  it('speaks it: what is ours, its errors, its countries, and which way it is written', () => {
    const d = inLanguage({ ...blankDefinition('طلب زيارة'), intro: 'أهلًا' }, 'ar')
    expect([d.button, d.thanks]).toEqual([TEXTS.ar.send, TEXTS.ar.thanks])
    expect(inLanguage({ ...d, button: 'Mine' }, 'fr')).toMatchObject({ button: 'Mine', thanks: TEXTS.fr.thanks })
    const html = formMarkup(publicPoint('k', 1, { ...d, questions: [...d.questions, { ...d.questions[0]!, key: 'land', kind: 'country', required: false, property: null }] }), { action: '' })
    expect(html).toMatch(/<form class="cv" lang="ar" dir="rtl"/)
    expect(html).toContain(TEXTS.ar.optional)
    expect(html).toContain('>ألمانيا</option>')
    expect(readValue({ kind: 'email' } as never, 'x', { ...PLAIN_READING, say: sayIn('ar') })).toEqual({ flaw: TEXTS.ar.notEmail })
    expect(LANGUAGE_KEYS.filter(l => directionOf(l) === 'rtl')).toEqual(['ar'])
  })
})
