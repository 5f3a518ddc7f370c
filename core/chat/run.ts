import type { Flow, Step, StepOf } from '#core/chat/shapes'
import { stepsOf } from '#core/chat/ways'
import { holds, type Attributes } from '#core/conditions/condition'
import type { Answer, Answers } from '#core/points/answer'

/** What a visitor does that the flow waits for. */
export type Heard =
  | { kind: 'text'; text: string }
  /** An answer as the drawn question gives it; empty: it was left out. */
  | { kind: 'answer'; value: Answer }
  /** One of the choices that were offered, by its place. */
  | { kind: 'choice'; n: number }
  /** What was read back is right, or is not. */
  | { kind: 'right'; yes: boolean }
  /** What the notes came to; `again`: they are asked what they meant. */
  | { kind: 'found'; what: 'answered' | 'again' | 'nothing' }
  /** A time was taken, or none of those offered. */
  | { kind: 'time'; taken: boolean }
  /** Whether somebody took the conversation over. */
  | { kind: 'person'; there: boolean }

/** What a conversation waits for. */
export type Waits = 'choice' | 'answer' | 'right' | 'words' | 'found' | 'time' | 'person' | 'nothing'

/** Where a conversation stands in its flow: plain data, kept with it. */
export interface Place {
  /** The step it stands at; null: it rests, or is over. */
  at: string | null
  waits: Waits
  answers: Answers
  /** What was understood and is being read back. */
  unsure: Answer | null
  /** The steps that were taken, in their order, the latest last; the oldest are forgotten. */
  way: string[]
}
export const BEGINNING: Place = { at: null, waits: 'nothing', answers: {}, unsure: null, way: [] }

/** Something that is said to the visitor. */
export type Line =
  | { kind: 'text'; step: string; text: string }
  | { kind: 'choices'; step: string; choices: string[] }
  | { kind: 'question'; step: string; question: string; text: string }
  /** What was understood, and whether it is right. */
  | { kind: 'read_back'; step: string; question: string; answer: Answer }
  /** What was wrong with an answer, and what to do. */
  | { kind: 'flaw'; step: string; text: string }

/** Something that is to be done outside of the flow. */
export type Deed =
  | { kind: 'do'; step: string; actions: string[]; entry: boolean }
  | { kind: 'look_up'; step: string; words: string }
  | { kind: 'times'; step: string; minutes: number; days: number }
  | { kind: 'hand_over'; step: string; to: string }
  | { kind: 'end'; step: string; rating: boolean }

/** What a flow asks of the world. */
export interface Around {
  /** What is known of the person and the page; answers of this conversation come first. */
  attributes: Attributes
  /** What is known of the answer to a question already, in a browser that counts as that person's; undefined: it is asked. */
  known: (question: string) => Answer | undefined
  /** Reads what was typed for a question: the answer as it is kept, or what is wrong with it. */
  read: (question: string, typed: Answer) => { value: Answer } | { flaw: string }
}

export interface Turn {
  place: Place
  lines: Line[]
  deeds: Deed[]
}

const MOST_WAY = 400
/** Steps that only speak or do, one after the other; a flow that goes live has no circle of them. */
const MOST_AT_ONCE = 200

/**
 * Goes on with a conversation: from the beginning, or by what was heard. What does not fit what is waited for changes nothing.
 * @param heard null: it begins
 * @returns where it stands then, what is said, and what is to be done outside, in this order
 */
export function goOn(flow: Flow, place: Place, heard: Heard | null, around: Around): Turn {
  const steps = stepsOf(flow)
  const turn: Turn = { place: { ...place, answers: { ...place.answers }, way: [...place.way] }, lines: [], deeds: [] }
  if (heard === null) enter(steps, turn, flow.start, around)
  else {
    const step = place.at === null ? undefined : steps.get(place.at)
    const next = step && hear(step, turn, heard, around)
    if (next) enter(steps, turn, next.to, around, next.words)
  }
  return turn
}

/** Walks on until something waits. @param words what was typed and fitted nothing: a step that looks something up takes it for the question */
function enter(steps: Map<string, Step>, turn: Turn, to: string | null, around: Around, words?: string): void {
  let next = to
  for (let n = 0; n < MOST_AT_ONCE; n++) {
    const step = next === null ? undefined : steps.get(next)
    if (!step) break
    turn.place.way = [...turn.place.way, step.key].slice(-MOST_WAY)
    const on = begin(step, turn, around, words)
    if (!on) return
    next = on.to
  }
  rest(turn)
}

const rest = ({ place }: Turn) => void Object.assign(place, { at: null, waits: 'nothing', unsure: null })
const wait = ({ place }: Turn, step: Step, waits: Waits) => void Object.assign(place, { at: step.key, waits, unsure: null })

/** Begins a step. @returns where to go on at once; undefined: it waits, or all is over */
function begin(step: Step, turn: Turn, around: Around, words?: string): { to: string | null } | undefined {
  const { lines, deeds, place } = turn
  if (step.kind === 'look_up' && words) {
    deeds.push({ kind: 'look_up', step: step.key, words })
    return wait(turn, step, 'found')
  }
  if ('text' in step && step.text && step.kind !== 'ask') lines.push({ kind: 'text', step: step.key, text: step.text })
  switch (step.kind) {
    case 'say':
      if (!step.choices.length) return { to: step.then }
      lines.push({ kind: 'choices', step: step.key, choices: step.choices.map(c => c.text) })
      return wait(turn, step, 'choice')
    case 'ask': {
      const known = Object.hasOwn(place.answers, step.question) ? undefined : around.known(step.question)
      if (known !== undefined) return answered(step, turn, known)
      lines.push({ kind: 'question', step: step.key, question: step.question, text: step.text })
      return wait(turn, step, 'answer')
    }
    case 'do':
      deeds.push({ kind: 'do', step: step.key, actions: step.actions, entry: step.entry })
      return { to: step.then }
    case 'branch':
      return { to: (step.ways.find(way => holds(way.when, sofar(place, around))) ?? { to: step.then }).to }
    case 'look_up':
      return wait(turn, step, 'words')
    case 'meet':
      deeds.push({ kind: 'times', step: step.key, minutes: step.minutes, days: step.days })
      return wait(turn, step, 'time')
    case 'hand_over':
      deeds.push({ kind: 'hand_over', step: step.key, to: step.to })
      return wait(turn, step, 'person')
    case 'end':
      deeds.push({ kind: 'end', step: step.key, rating: step.rating })
      return rest(turn)
  }
}

/** Takes what was heard at the step that waits. @returns where to go on; undefined: it stays there */
function hear(step: Step, turn: Turn, heard: Heard, around: Around): { to: string | null; words?: string } | undefined {
  const { place, lines, deeds } = turn
  switch (step.kind) {
    case 'say': {
      if (place.waits !== 'choice') return undefined
      if (heard.kind === 'choice') return Object.hasOwn(step.choices, heard.n) ? { to: step.choices[heard.n]!.to } : undefined
      if (heard.kind !== 'text') return undefined
      // Who types what could be pressed has chosen it.
      return step.choices.find(c => alike(c.text, heard.text)) ?? { to: step.then, words: heard.text }
    }
    case 'ask': {
      if (place.waits === 'right' && heard.kind === 'right') return heard.yes ? answered(step, turn, place.unsure!) : again(step, turn)
      const typed = heard.kind === 'text' ? heard.text : heard.kind === 'answer' ? heard.value : undefined
      if (typed === undefined || (place.waits !== 'answer' && place.waits !== 'right')) return undefined
      const found = around.read(step.question, typed)
      if ('flaw' in found) return void lines.push({ kind: 'flaw', step: step.key, text: found.flaw })
      // What was left out has nothing to be read back.
      if (!step.readBack || !found.value.length) return answered(step, turn, found.value)
      lines.push({ kind: 'read_back', step: step.key, question: step.question, answer: found.value })
      return void Object.assign(place, { waits: 'right', unsure: found.value })
    }
    case 'look_up':
      if (place.waits === 'words' && heard.kind === 'text') {
        deeds.push({ kind: 'look_up', step: step.key, words: heard.text })
        return void Object.assign(place, { waits: 'found' })
      }
      if (place.waits !== 'found' || heard.kind !== 'found') return undefined
      if (heard.what === 'again') return wait(turn, step, 'words')
      return { to: heard.what === 'answered' ? step.then : step.otherwise }
    case 'meet':
      return heard.kind === 'time' ? { to: heard.taken ? step.then : step.otherwise } : undefined
    case 'hand_over':
      if (heard.kind !== 'person') return undefined
      if (!heard.there) return { to: step.otherwise }
      return rest(turn)
    default:
      return undefined
  }
}

function again(step: StepOf<'ask'>, turn: Turn): undefined {
  turn.lines.push({ kind: 'question', step: step.key, question: step.question, text: step.text })
  wait(turn, step, 'answer')
}

/** An answer stands: it is kept, and says where to go on. */
function answered(step: StepOf<'ask'>, { place }: Turn, answer: Answer): { to: string | null } {
  place.answers[step.question] = answer
  const given = [answer].flat()
  return { to: (step.ways.find(way => given.includes(way.value)) ?? { to: step.then }).to }
}

/** What conditions may ask: answers of this conversation, and whatever else is known. */
const sofar =
  (place: Place, around: Around): Attributes =>
  name =>
    name.startsWith('answer.') && Object.hasOwn(place.answers, name.slice(7)) ? place.answers[name.slice(7)] : around.attributes(name)

const alike = (one: string, other: string): boolean => plain(one) === plain(other)
const plain = (text: string) =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
