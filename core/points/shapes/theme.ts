import { Equals, IsIn, IsInt, IsString, IsUUID, Length, Matches, Max, MaxLength, Min } from 'class-validator'
import {
  ALIGNS,
  BUTTON_WIDTHS,
  CORNERS,
  FIELD_SHAPES,
  FONTS,
  LIMITS,
  PATTERNS,
  WIDTHS,
  type Corners,
  type Font,
  type Pattern,
} from '#core/points/limits'
import { UNDECIDED } from '#core/points/undecided'
import { complete, Default, OneOf } from '#core/shapes'
import { Nested } from '#core/validate'

const COLOUR = { message: 'A colour is written #rrggbb' }
const IsColour = () => Matches(/^#[0-9a-f]{6}$/i, COLOUR)

/** A file of ours. */
export class SentFile {
  @IsUUID() id!: string
  @IsString() @Length(1, 200) name!: string
}

/** A picture of ours with its size in pixels and what it shows. */
export class Mark {
  @Nested(() => SentFile) file!: SentFile
  @IsInt() @Min(1) @Max(20_000) width!: number
  @IsInt() @Min(1) @Max(20_000) height!: number
  @IsString() @MaxLength(LIMITS.title) alt!: string
}

class PlainGround {
  @Equals('plain') kind!: 'plain'
}
class PatternGround {
  @Equals('pattern') kind!: 'pattern'
  @IsIn(PATTERNS) pattern!: Pattern
}
class PictureGround {
  @Equals('picture') kind!: 'picture'
  @Nested(() => Mark) picture!: Mark
}
export type Backdrop = PlainGround | PatternGround | PictureGround

/** How a point looks to visitors, in the few decisions that a marketer makes. */
export class Theme {
  @IsColour() sheet!: string
  @IsColour() ink!: string
  @IsColour() accent!: string
  @IsIn(FONTS) font!: Font
  @IsIn(CORNERS) corners!: Corners
  @IsIn(FIELD_SHAPES) fields!: (typeof FIELD_SHAPES)[number]
  @IsIn(BUTTON_WIDTHS) button!: (typeof BUTTON_WIDTHS)[number]
  @IsIn(WIDTHS) width!: (typeof WIDTHS)[number]
  @IsIn(ALIGNS) align!: (typeof ALIGNS)[number]
  /** What lies on the ground: nothing, a quiet pattern, or a picture under a veil that keeps the text readable. */
  @Default({ kind: 'plain' }) @OneOf({ plain: PlainGround, pattern: PatternGround, picture: PictureGround }) backdrop!: Backdrop
  /** Stands above the title. */
  @Default(null) @Nested(() => Mark) logo!: Mark | null
  /** Over a form, from edge to edge. */
  @Default(null) @Nested(() => Mark) header!: Mark | null

  /** What was stored long ago lacks what came later. */
  static tidy(theme: Theme): Theme {
    const { sheet, ink, accent, ...rest } = { ...UNDECIDED, ...theme }
    return { sheet: sheet.toLowerCase(), ink: ink.toLowerCase(), accent: accent.toLowerCase(), ...rest }
  }
}

/** A theme out of its checked shape: colours in small letters, what is left out filled in. */
export const themeOf = (checked: Theme): Theme => complete(Theme, checked)
