import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'
import {
  ArrayMaxSize,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator'
import { LIMITS } from '#core/points/limits'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { BEGAN_BY, conversationById, type BeganBy, type Conversation } from '#db/conversations'
import { database } from '#server/database'
import { problem } from '#server/problem'

const SECRET = /^[\w-]{43}$/

/** What only a visitor's browser holds of its conversation: who knows its id alone has nothing. */
export const newSecret = (): string => randomBytes(32).toString('base64url')
export const secretHash = (secret: string): Buffer => createHash('sha256').update(`cavlin conversation ${secret}`).digest()

/** Which conversation, and that it is theirs. */
export class Holder {
  @IsUUID() id!: string
  @Matches(SECRET, { message: 'This is no word of a conversation.' }) secret!: string
}

/** A conversation, for who holds its word. @throws 404, the same for one that is not there and one that is not theirs */
export async function heldBy({ id, secret }: Holder): Promise<Conversation> {
  const c = await conversationById(database(), id)
  if (!c || !timingSafeEqual(c.secret, secretHash(secret))) throw problem(404, 'This conversation is not there any more. Begin a new one.')
  return c
}

/** A conversation that is to begin. */
export class Beginning {
  @IsString() @Matches(/^[\w-]{1,80}$/, { message: 'This is the key of no chat.' }) point!: string
  @IsOptional() @IsUUID() visitor?: string | null
  @IsOptional() @IsString() @MaxLength(4000) page?: string | null
  @IsOptional() @IsIn(LANGUAGE_KEYS) language?: Language | null
  @IsOptional() @IsIn(BEGAN_BY.filter(by => by !== 'member' && by !== 'mail')) by?: BeganBy | null
}

/** Where somebody goes on from: the last line that they have. */
export class After extends Holder {
  @IsInt() @Min(0) @Max(100_000) after!: number
}

const SAID = ['text', 'choice', 'answer', 'address', 'rating'] as const
/** Something that a visitor says. Under its `message` it counts once, however often it is sent. */
export class Saying extends After {
  @IsUUID() message!: string
  @IsIn(SAID) kind!: (typeof SAID)[number]
  /** Of a text, an address, and what is said with a rating. */
  @IsOptional() @IsString() @MaxLength(LIMITS.answer) text?: string | null
  /** Of a choice its place, of a rating its step. */
  @IsOptional() @IsInt() @Min(0) @Max(100) n?: number | null
  /** Of an answer what the drawn question holds; empty: it is left out. */
  @ValidateIf((s: Saying) => s.kind === 'answer')
  @ArrayMaxSize(LIMITS.choices)
  @IsString({ each: true })
  @MaxLength(LIMITS.answer, { each: true })
  values?: string[]
  /** The line that it answers: what was said meanwhile may ask something else. */
  @IsOptional() @IsInt() @Min(0) @Max(100_000) to?: number | null
}

/** Files that a visitor sends, beside the form's parts `file`. Under their `message` they count once. */
export class SentFiles extends Holder {
  @IsUUID() message!: string
  @IsInt() @Min(0) @Max(100_000) after!: number
  /** The line that asks for them; without one they are sent by the way. */
  @IsOptional() @IsInt() @Min(1) @Max(100_000) to?: number | null
}

export class Reading extends Holder {
  @IsInt() @Min(0) @Max(100_000) upTo!: number
  /** Typing just now. */
  @IsOptional() @IsBoolean() typing?: boolean | null
}
