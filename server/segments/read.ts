import { IsObject, IsString, Matches, MaxLength } from 'class-validator'
import type { H3Event } from 'h3'
import { type Askable, readCondition, type Condition } from '#core/conditions/condition'
import { ABOUT_PERSON } from '#core/conditions/askable'
import { asksForScore } from '#core/leads/needs'
import { circles, expanded, MOST_EXPANDED, expandedSize } from '#core/segments/segment'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { readChecked } from '#server/wire'

class SegmentBody {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the segment a name' }) name!: string
  @IsObject() condition!: object
}

/** A condition on leads out of an untrusted value. @throws 422 naming the place, also of properties that there are not, and when it would become too large */
export function readTests(
  value: unknown,
  { properties, segments }: Pick<Ruleset, 'properties' | 'segments'>,
  askable: Askable = ABOUT_PERSON,
): Condition {
  try {
    const condition = readCondition(
      value,
      'condition',
      (attribute, did) =>
        askable(attribute, did) &&
        (did !== null || !attribute.startsWith('property.') || properties.some(p => p.key === attribute.slice(9))),
    )
    if (expandedSize(condition, segments) > MOST_EXPANDED) throw tooLarge('This condition')
    return condition
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    throw problem(422, 'The condition cannot be read; see the list.', [
      { field: error.message.split(' ')[0]!, message: `${error.message}.` },
    ])
  }
}

/** A segment as it was sent. @throws 422, also when it would come back to itself */
export async function readSegment(
  event: H3Event,
  id: string,
  ruleset: Ruleset,
): Promise<{ id: string; name: string; condition: Condition }> {
  const body = await readChecked(event, SegmentBody)
  const condition = readTests(body.condition, ruleset)
  if (circles(id, condition, ruleset.segments))
    throw problem(422, 'This segment would ask for itself. Take that test out.', [
      { field: 'condition', message: 'This segment would ask for itself, by its own name or through another. Take that test out.' },
    ])
  // Who names this one grows with it.
  const after = new Map([...ruleset.segments, [id, condition]])
  const grown = ruleset.segmentNames.find(s => s.id !== id && expandedSize(after.get(s.id)!, after) > MOST_EXPANDED)
  if (grown) throw tooLarge(`The segment “${grown.name}”, which asks for this one,`)
  const scored = ruleset.cardSegments.find(s => asksForScore(expanded({ attribute: 'segment', is: 'equal', value: s }, after)))
  if (scored !== undefined) throw problem(422, OF_SCORE, [{ field: 'condition', message: OF_SCORE }])
  return { id, name: body.name.trim(), condition }
}

const OF_SCORE =
  'The scorecard asks for this segment, so the segment may not ask for fit, interest or label, which the scorecard makes. Take that test out.'

const tooLarge = (what: string) =>
  problem(422, 'The condition is too large; see the list.', [
    {
      field: 'condition',
      message: `${what} would ask more than ${MOST_EXPANDED} things of each lead, once its segments are written out. Ask for fewer.`,
    },
  ])

export const nameTaken = () =>
  problem(422, 'Another segment has this name.', [{ field: 'name', message: 'Another segment has this name. Choose another.' }])
