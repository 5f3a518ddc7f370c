import { ArrayNotEmpty, ArrayUnique, IsArray, IsIn, IsInt, IsString, Matches, Max, MaxLength, Min, ValidateIf } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { SCOPES, type Scope } from '#core/scopes'
import { issueKey } from '#server/api-keys'
import { database } from '#server/database'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class NewKey {
  @IsString() @MaxLength(100) @Matches(/\S/, { message: 'Name the key after what uses it' }) name!: string
  @IsArray()
  @ArrayNotEmpty({ message: 'Choose what the key may do' })
  @ArrayUnique()
  @IsIn(SCOPES, { each: true, message: `A key may: ${SCOPES.join(', ')}` })
  scopes!: Scope[]
  /** How many days it works; null: until somebody takes it out of use. */
  @ValidateIf(k => k.days !== null) @IsInt() @Min(1) @Max(3650) days!: number | null
}

/** Makes a key. The answer is the only place where it is ever shown. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'manage keys')
  const { name, scopes, days } = await readChecked(event, NewKey)
  setResponseStatus(event, 201)
  return {
    key: await issueKey(database(), name.trim(), member.id, scopes, days === null ? null : new Date(Date.now() + days * 86_400_000)),
  }
})
