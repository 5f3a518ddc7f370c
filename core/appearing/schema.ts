import 'reflect-metadata'
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator'
import { PLACEMENTS, type Placement } from '#core/appearing/kinds'
import { ABOUT_PAGE, ABOUT_VISITOR } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { ConditionAbout, ListOfKinds } from '#core/shapes'
import { Nested } from '#core/validate'

const DAY = { message: 'A day is written like 2026-04-18' }

class Leaving {
  @IsIn(['leaving']) kind!: 'leaving'
}
class Counted {
  @IsIn(['seconds', 'scrolled', 'pages', 'idle']) kind!: 'seconds' | 'scrolled' | 'pages' | 'idle'
  @IsInt() @Min(0) @Max(86_400) n!: number
}
class OnSomething {
  @IsIn(['click', 'event']) kind!: 'click' | 'event'
  @IsString() @Length(1, 200) what!: string
}
/**
 * seconds: so long on the page; scrolled: to so many percent of it; leaving: about to leave; pages: so many pages in
 * this visit; idle: nothing done for so many seconds; click: on an element (a selector); event: a custom event.
 */
export type Moment = Leaving | Counted | OnSomething
const MOMENT_SHAPES = {
  leaving: Leaving,
  seconds: Counted,
  scrolled: Counted,
  pages: Counted,
  idle: Counted,
  click: OnSomething,
  event: OnSomething,
}

/** Days as ISO dates, weekdays from 1 (Monday), hours half-open, all in the house's zone. */
export class Period {
  @ValidateIf((p: Period) => p.from !== null) @Matches(/^\d{4}-\d{2}-\d{2}$/, DAY) from!: string | null
  @ValidateIf((p: Period) => p.until !== null) @Matches(/^\d{4}-\d{2}-\d{2}$/, DAY) until!: string | null
  @IsArray() @ArrayUnique() @IsInt({ each: true }) @Min(1, { each: true }) @Max(7, { each: true }) days!: number[]
  @ValidateIf((p: Period) => p.hours !== null)
  @IsArray()
  @ArrayMinSize(2)
  @ArrayMaxSize(2)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(24, { each: true })
  hours!: [number, number] | null

  static tidy = (p: Period): Period => ({ ...p, days: [...p.days].sort() })
}

/** Days that it stays away after somebody closed it and after they answered (null: for good); how often a visit at most. */
export class Rest {
  @IsInt() @Min(0) @Max(3650) closed!: number
  @ValidateIf((r: Rest) => r.answered !== null) @IsInt() @Min(0) @Max(3650) answered!: number | null
  @IsInt() @Min(1) @Max(50) perVisit!: number
}

/**
 * Where and when a point shows by itself on the site, beside what its tag does. The browser decides by it
 * (`decide.ts`), without knowing anything about people but what the server told of this one.
 */
export class DisplayRules {
  /** Off: it stands only where its tag, its frame or its own page stands. */
  @IsBoolean() on!: boolean
  @IsIn(PLACEMENTS) placement!: Placement
  /** Of a bar: at the top or the bottom. Of a card or a floating button: in the left or the right corner. */
  @IsIn(['start', 'end']) side!: 'start' | 'end'
  /** What the bar or the card says before it is opened, and the button that opens it; a floating button is only that. */
  @IsString() @MaxLength(400) invitation!: string
  @IsString() @MaxLength(60) open!: string
  /** On which pages; null: on all. Attributes: page.path, page.address, page.title, page.query.NAME. */
  @ConditionAbout(ABOUT_PAGE) pages!: Condition | null
  /** Where it does not show, whatever else holds. */
  @ConditionAbout(ABOUT_PAGE) except!: Condition | null
  /** What has to happen first: one of them, or all. None: at once. */
  @ArrayMaxSize(8) @ListOfKinds(MOMENT_SHAPES) moments!: Moment[]
  @IsIn(['any', 'all']) together!: 'any' | 'all'
  /** To whom; null: to everybody. */
  @ConditionAbout(ABOUT_VISITOR) audience!: Condition | null
  @Nested(() => Period) period!: Period
  @Nested(() => Rest) rest!: Rest
  /** Also on small screens, where it would lie over what people read. */
  @IsBoolean() small!: boolean
}
