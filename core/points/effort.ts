import type { Property } from '#core/properties/kinds'
import { choicesOf, type PointDefinition, type Question, type QuestionKind } from '#core/points/definition'

/** What filling in costs, and how many of those who begin are expected to finish. */
export type Source = 'entries' | 'assumptions'
export interface Effort {
  seconds: number
  /** 0 to 1. */
  finish: number
  /** Where each comes from: our own entries, or assumptions. */
  secondsFrom: Source
  finishFrom: Source
}

/**
 * Assumptions, stated so that they can be argued with: seconds to answer each kind on a phone,
 * beside reading at four words a second.
 */
const SECONDS: Record<QuestionKind, number> = {
  short_text: 6,
  long_text: 28,
  email: 8,
  phone: 9,
  number: 5,
  money: 7,
  date: 8,
  one_of: 3,
  some_of: 6,
  yes_no: 2,
  url: 9,
  country: 5,
  consent: 2,
  file: 20,
}
/** Of those who see a point in full, this share begins in earnest; each required question then loses some. */
const BEGIN = 0.9
const LOST = { easy: 0.015, hard: 0.04, private: 0.07, sensitive: 0.12 }
const HARD: QuestionKind[] = ['long_text', 'money', 'phone', 'url', 'file']
/** An optional question is answered by about half, and loses a quarter of what it would if it were required. */
const OPTIONAL = { answered: 0.5, lost: 0.25 }
/** A question behind a condition is met by about half. */
const CONDITIONAL = 0.5

/** What is known of the live edition: the median time that people took, of how many; how many began it and finished. */
export interface Measured {
  seconds: number | null
  entries: number
  started: number
  finished: number
  live: PointDefinition
}

/** Fewer entries than this say too little about the time people take, and fewer beginnings about who finishes. */
export const ENOUGH_ENTRIES = 20
export const ENOUGH_STARTS = 40

/**
 * An estimate of effort for a working copy.
 * @param measured of the live edition; scaled by what the working copy adds or leaves out
 */
export function effortOf(
  definition: PointDefinition,
  properties: Pick<Property, 'key' | 'sensitivity'>[],
  measured: Measured | null = null,
): Effort {
  const assumed = secondsOf(definition)
  const timed = measured?.seconds != null && measured.entries >= ENOUGH_ENTRIES
  const counted = measured !== null && measured.started >= ENOUGH_STARTS && measured.finished <= measured.started
  return {
    seconds: Math.round(timed ? (measured.seconds! * assumed) / secondsOf(measured.live) : assumed),
    secondsFrom: timed ? 'entries' : 'assumptions',
    finish: Math.min(
      1,
      counted
        ? ((measured.finished / measured.started) * finishOf(definition, properties)) / finishOf(measured.live, properties)
        : finishOf(definition, properties),
    ),
    finishFrom: counted ? 'entries' : 'assumptions',
  }
}

const finishOf = (d: PointDefinition, properties: Pick<Property, 'key' | 'sensitivity'>[]) =>
  d.questions.filter(q => !q.hidden).reduce((share, q) => share * (1 - lossOf(q, properties)), BEGIN)

function secondsOf(d: PointDefinition): number {
  const words = (text: string) => text.split(/\s+/).filter(Boolean).length / 4
  return (
    words(`${d.title} ${d.intro}`) +
    2 +
    d.questions
      .filter(q => !q.hidden)
      .reduce((sum, q) => {
        const choices = q.kind === 'country' ? 0 : choicesOf(q).reduce((n, c) => n + words(c.text), 0)
        return (
          sum +
          (words(`${q.label} ${q.help}`) + choices + SECONDS[q.kind] * (q.required || q.kind === 'consent' ? 1 : OPTIONAL.answered)) *
            (q.shownIf ? CONDITIONAL : 1)
        )
      }, 0)
  )
}

function lossOf(q: Question, properties: Pick<Property, 'key' | 'sensitivity'>[]): number {
  const sensitivity = properties.find(p => p.key === q.property)?.sensitivity ?? 'ordinary'
  const loss = sensitivity !== 'ordinary' ? LOST[sensitivity] : HARD.includes(q.kind) ? LOST.hard : LOST.easy
  return loss * (q.required ? 1 : OPTIONAL.lost) * (q.shownIf ? CONDITIONAL : 1)
}
