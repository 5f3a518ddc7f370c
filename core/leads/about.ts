import { judge, type Judged, type Subject } from '#core/conditions/judge'
import type { Condition } from '#core/conditions/condition'
import type { About } from '#core/leads/attributes/attribute'
import { attributeOf, ownName } from '#core/leads/attributes/registry'
import { NotLoaded } from '#core/leads/beside'
import { testKey } from '#core/leads/needs'

/** A lead as conditions ask about it. */
export const subjectOf = (about: About): Subject => ({
  now: about.now,
  attribute(name) {
    const attribute = attributeOf(name)
    return attribute ? attribute.read(about, ownName(attribute, name)) : undefined
  },
  moments(test) {
    const moments = about.beside.moments.get(testKey(test))
    if (!moments) throw new NotLoaded(testKey(test))
    return moments
  },
  reaches: (name, value) => attributeOf(name)?.reaches?.(about, value),
})

/**
 * Whether a condition (segments written out) holds for a lead, and until when that is sure.
 * @throws NotLoaded when it asks for what was not loaded
 */
export const judgeLead = (condition: Condition, about: About): Judged => judge(condition, subjectOf(about))
