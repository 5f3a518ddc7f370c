import { IsInt, IsString, IsUUID, Min } from 'class-validator'

/** A file that one of us put to a note or a mail about a lead. */
export class LeadFile {
  @IsUUID() id!: string
  @IsString() name!: string
  @IsInt() @Min(0) size!: number
}
/** So many go along with one note or mail. */
export const MOST_LEAD_FILES = 5
