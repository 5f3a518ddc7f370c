import type { PointDefinition } from '#core/points/definition'

/** Another wording of a point, tried beside its own: the texts that draw people in. */
export interface Wording { key: string; title: string; intro: string; button: string; invitation: string; open: string }

/** The point's own wording, by which the others are measured. */
export const OWN = 'a'
export const MOST_WORDINGS = 4

/** All wordings of a point, its own first. */
export const wordingsOf = ({ title, intro, button, appears, wordings }: PointDefinition): Wording[] =>
  [{ key: OWN, title, intro, button, invitation: appears.invitation, open: appears.open }, ...wordings]

/** The point in one of its wordings; in its own when there is no such. */
export function worded(definition: PointDefinition, key: string): PointDefinition {
  const w = definition.wordings.find(o => o.key === key)
  return w ? { ...definition, title: w.title, intro: w.intro, button: w.button, appears: { ...definition.appears, invitation: w.invitation, open: w.open } } : definition
}

/** A point that keeps one of its wordings and tries no other. */
export const keeping = (definition: PointDefinition, key: string): PointDefinition => ({ ...worded(definition, key), wordings: [] })

/** A key for one more wording: b, c, d. */
export const nextWording = (taken: string[]): string => 'bcdefgh'.split('').find(k => !taken.includes(k))!

/**
 * What tells one trial from another: another text, or another wording, is another trial, and counts anew.
 * Null where there is only one wording.
 */
export const trialOf = (definition: PointDefinition): string | null =>
  definition.wordings.length ? hash(JSON.stringify(wordingsOf(definition).map(w => [w.key, w.title, w.intro, w.button, w.invitation, w.open]))).toString(36) : null

/**
 * Which of so many wordings a visitor gets in a trial: as often one as the other, and for each visitor always the same.
 * @returns an index
 */
export const lot = (visitor: string, trial: string, many: number): number => hash(`${trial} ${visitor}`) % many

/** FNV-1a over UTF-16 units, its bits mixed by the finalizer of MurmurHash3: 32 bits, evenly spread. */
function hash(text: string): number {
  let h = 0x811C9DC5
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  h = Math.imul(h ^ h >>> 16, 0x85EBCA6B)
  h = Math.imul(h ^ h >>> 13, 0xC2B2AE35)
  return (h ^ h >>> 16) >>> 0
}
