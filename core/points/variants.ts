import type { PointDefinition } from '#core/points/shapes/definition'
import type { Variant } from '#core/points/shapes/rules'

export { MOST_VARIANTS } from '#core/points/limits'
export type { Variant } from '#core/points/shapes/rules'

/** The point's own variant, by which the others are measured. */
export const OWN = 'a'

/** All variants of a point, its own first. */
export const variantsOf = ({ title, intro, button, display, variants }: PointDefinition): Variant[] => [
  { key: OWN, title, intro, button, invitation: display.invitation, open: display.open },
  ...variants,
]

/** The point in one of its variants; in its own when there is no such. */
export function inVariant(definition: PointDefinition, key: string): PointDefinition {
  const w = definition.variants.find(o => o.key === key)
  return w
    ? {
        ...definition,
        title: w.title,
        intro: w.intro,
        button: w.button,
        display: { ...definition.display, invitation: w.invitation, open: w.open },
      }
    : definition
}

/** A point that keeps one of its variants and tries no other. */
export const keeping = (definition: PointDefinition, key: string): PointDefinition => ({ ...inVariant(definition, key), variants: [] })

/** A key for one more variant: b, c, d. */
export const nextVariant = (taken: string[]): string => 'bcdefgh'.split('').find(k => !taken.includes(k))!

/**
 * What tells one experiment from another: another text, or another variant, is another experiment, and counts anew.
 * Null where there is only one variant.
 */
export const experimentOf = (definition: PointDefinition): string | null =>
  definition.variants.length
    ? hash(JSON.stringify(variantsOf(definition).map(w => [w.key, w.title, w.intro, w.button, w.invitation, w.open]))).toString(36)
    : null

/**
 * Which of so many variants a visitor gets in an experiment: as often one as the other, and for each visitor always the same.
 * @returns an index
 */
export const bucket = (visitor: string, experiment: string, many: number): number => hash(`${experiment} ${visitor}`) % many

/** FNV-1a over UTF-16 units, its bits mixed by the finalizer of MurmurHash3: 32 bits, evenly spread. */
function hash(text: string): number {
  let h = 0x811c9dc5
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}
