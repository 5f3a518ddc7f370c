import { IsEmail, IsISO8601, IsObject, IsOptional, IsString, IsUrl, IsUUID, Length, MaxLength } from 'class-validator'
import { Says } from '#core/shapes'
import { TRAIL_LIMITS } from '#core/trail/events'

/** An event that a program adds. */
export class AddedEvent {
  @IsString() @Length(1, TRAIL_LIMITS.name) name!: string
  @Says('Whose it is: a lead’s address, or a `visitor`.') @IsOptional() @IsEmail() email?: string
  @IsOptional() @IsUUID() visitor?: string
  @Says('Texts, numbers, yes and no; at most 20 are kept.') @IsOptional() @IsObject() properties?: Record<string, unknown>
  @Says('Within the last seven days; now, if it is left out.') @IsOptional() @IsISO8601({ strict: true }) at?: string
  @IsOptional() @IsUrl({ require_tld: false, require_protocol: true, protocols: ['http', 'https'] }) @MaxLength(2000) page?: string
}
