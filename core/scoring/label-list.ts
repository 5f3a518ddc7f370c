import { ArrayMaxSize, ArrayMinSize, IsBoolean, IsInt, IsOptional, IsString, Length, Matches, Max, Min } from 'class-validator'
import type { Flaw } from '#core/flaws'
import { ListOf } from '#core/validate'
import type { Label } from '#core/vocabulary'

/** A label as a manager sets it up. */
export class LabelSetting {
  /** Of one that there is. */
  @IsOptional() @IsString() @Length(1, 60) key?: string | null
  @IsString() @Length(1, 60) @Matches(/\S/, { message: 'A label needs a name' }) name!: string
  @IsBoolean() qualified!: boolean
  /** Working minutes within which somebody with it is to be answered. */
  @IsInt() @Min(1) @Max(100_000) responseTarget!: number
}
/** All of them, the lowest first. */
export class LabelList {
  @ArrayMinSize(1, { message: 'There has to be a label' }) @ArrayMaxSize(12) @ListOf(() => LabelSetting) labels!: LabelSetting[]
}

/** What is wrong with labels together. @param before those that there are */
export function labelFlaws(labels: LabelSetting[], before: Pick<Label, 'key'>[]): Flaw[] {
  const flaws: Flaw[] = []
  labels.forEach((l, i) => {
    const name = l.name.trim().toLowerCase()
    if (labels.findIndex(o => o.name.trim().toLowerCase() === name) < i)
      flaws.push({ field: `labels.${i}.name`, message: `Two labels are called “${l.name.trim()}”. Give one another name.` })
    if (l.key && !before.some(b => b.key === l.key))
      flaws.push({ field: `labels.${i}.key`, message: 'There is no such label any more. Load the labels again.' })
    if (l.key && labels.findIndex(o => o.key === l.key) < i)
      flaws.push({ field: `labels.${i}.key`, message: 'A label stands there twice.' })
    if (!l.qualified && labels[i - 1]?.qualified)
      flaws.push({
        field: `labels.${i}.qualified`,
        message: `“${l.name.trim()}” stands above one that counts as qualified, so it does, too.`,
      })
  })
  return flaws
}

/** A key that none of some has, made from a name. */
export function labelKey(name: string, taken: ReadonlySet<string>): string {
  const base =
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^[^a-z]+|_+$/g, '')
      .slice(0, 40) || 'label'
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}_${n}`
    if (!taken.has(key)) return key
  }
}
