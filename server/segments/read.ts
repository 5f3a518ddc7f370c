import { IsObject, IsString, Matches, MaxLength } from 'class-validator'
import type { H3Event } from 'h3'
import { readCondition, type Condition } from '#core/conditions'
import { circles } from '#core/segments/segment'
import { problem } from '#server/problem'
import type { Standing } from '#server/standing'
import { readChecked } from '#server/wire'

class SegmentBody {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the segment a name' }) name!: string
  @IsObject() condition!: object
}

/** A condition out of an untrusted value. @throws 422 naming the place */
export function readTests(value: unknown): Condition {
  try {
    return readCondition(value)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    throw problem(422, 'The condition cannot be read; see the list.', [{ field: error.message.split(' ')[0]!, message: `${error.message}.` }])
  }
}

/** A segment as it was sent. @throws 422, also when it would come back to itself */
export async function readSegment(event: H3Event, id: string, standing: Standing): Promise<{ id: string; name: string; condition: Condition }> {
  const body = await readChecked(event, SegmentBody)
  const condition = readTests(body.condition)
  if (circles(id, condition, standing.segments)) throw problem(422, 'This segment would ask for itself. Take that test out.', [{ field: 'condition', message: 'This segment would ask for itself, by its own name or through another. Take that test out.' }])
  return { id, name: body.name.trim(), condition }
}

export const nameTaken = () => problem(422, 'Another segment has this name.', [{ field: 'name', message: 'Another segment has this name. Choose another.' }])
