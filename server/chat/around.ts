import type { Around } from '#core/chat/run'
import { fileAnswer } from '#core/chat/file-answer'
import type { Flow } from '#core/chat/shapes'
import { isServers } from '#core/appearing/attributes'
import { ofNobody } from '#core/appearing/masked'
import { mapTests, type ActivityTest, type Condition, type Test } from '#core/conditions/condition'
import { pageAttributes } from '#core/appearing/pages'
import { sayIn } from '#core/languages/say'
import type { Language } from '#core/languages/language'
import type { LeadState } from '#core/leads/lead'
import { readAnswers } from '#core/points/answers'
import type { Answer } from '#core/points/answer'
import { choicesOf, type PointDefinition, type Question } from '#core/points/definition'
import { leadState } from '#db/book'
import type { Db } from '#db/client'
import { provenLead } from '#db/trail'
import { judge } from '#server/appearing/audience-token'
import { knownAnswers } from '#server/capture/personal'
import type { Ruleset } from '#server/ruleset'

/** Who talks to us, as far as it counts in a conversation. */
export interface Talker {
  /** The browser, of one that agreed. */
  visitor: string | null
  page: string | null
  /** Whose browser it is shown to be: only their own is told what is known. */
  lead: LeadState | null
}
export async function talkerOf(db: Db, visitor: string | null, page: string | null): Promise<Talker> {
  const proven = visitor && (await provenLead(db, visitor))
  return { visitor, page, lead: (proven && (await leadState(db, proven))) || null }
}

/** A flow whose branches ask only for answers, the page, and what was found out about the person (`server.0` …). */
interface Prepared {
  flow: Flow
  around: Around
}

/** What a flow asks of the world in this conversation. @param definition in the conversation's language */
export async function preparedFor(
  db: Db,
  ruleset: Ruleset,
  definition: PointDefinition,
  point: string,
  talker: Talker,
  language: Language,
): Promise<Prepared> {
  const tests: (Test | ActivityTest)[] = []
  const mask = (test: Test | ActivityTest): Condition =>
    'did' in test || isServers(test.attribute) ? { attribute: `server.${tests.push(test) - 1}`, is: 'equal', value: 'yes' } : test
  const flow: Flow = {
    ...definition.chat!.flow,
    steps: definition.chat!.flow.steps.map(step =>
      step.kind === 'branch' ? { ...step, ways: step.ways.map(w => ({ ...w, when: mapTests(w.when, mask) })) } : step,
    ),
  }
  const found =
    tests.length && talker.visitor
      ? (await judge(db, [{ key: point, tests }], ruleset.segments, talker.visitor, talker.lead?.id ?? null, Date.now()))[point]!
      : ofNobody(tests)
  const known = talker.lead ? knownAnswers(talker.lead, definition.questions, ruleset.properties, ruleset.reading) : {}
  const here = pageOf(talker.page)
  return {
    flow,
    around: {
      attributes: name => (name.startsWith('server.') ? (found[Number(name.slice(7))] ? 'yes' : 'no') : here(name)),
      known: question => (Object.hasOwn(known, question) ? known[question] : undefined),
      read: (question, typed) => readOne(definition, question, typed, { ...ruleset.reading, say: sayIn(language) }, language),
    },
  }
}

function pageOf(page: string | null) {
  return page && URL.canParse(page) ? pageAttributes(new URL(page), '') : () => undefined
}

/** Reads what was typed or chosen for one question. */
function readOne(
  definition: PointDefinition,
  key: string,
  typed: Answer,
  reading: Ruleset['reading'],
  language: Language,
): { value: Answer } | { flaw: string } {
  const question = definition.questions.find(q => q.key === key)
  if (!question) return { value: typed }
  const plain = { ...question, shownIf: null, hidden: null }
  if (plain.kind === 'file') return fileAnswer(plain, typed, reading)
  const { answers, flaws } = readAnswers([plain], { [key]: meant(plain, typed, language) }, reading)
  if (flaws.length) return { flaw: flaws[0]!.message }
  return { value: answers[key] ?? '' }
}

/** Who types the words of an answer that is offered has chosen it. */
function meant(q: Question, typed: Answer, language: Language): Answer {
  const choices = choicesOf(q, language)
  if (!choices.length || typeof typed !== 'string') return typed
  const plain = (text: string) =>
    text
      .normalize('NFKC')
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim()
  const value = choices.find(c => c.value === typed || plain(c.text) === plain(typed))?.value ?? typed
  return q.kind === 'some_of' ? [value] : value
}
