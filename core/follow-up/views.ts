import { ArrayMaxSize, IsArray, IsBoolean, IsString, Matches, MaxLength, ValidateBy } from 'class-validator'
import { COUNTED_NAMES } from '#core/figures/counted-filter'
import { isPlain } from '#core/validate'

/** What the table of leads can show beside the name, which it always shows; `p.KEY` is a property. */
export const COLUMNS = [
  'company',
  'label',
  'fit',
  'interest',
  'status',
  'owner',
  'waiting',
  'updated',
  'created',
  'email',
  'next_step',
  'tags',
  'value',
] as const
export type ColumnKey = (typeof COLUMNS)[number] | `p.${string}`
export const COLUMN_WORDS: Record<(typeof COLUMNS)[number], string> = {
  company: 'Company',
  label: 'Label',
  fit: 'Fit',
  interest: 'Interest',
  status: 'Status',
  owner: 'Owner',
  waiting: 'Waiting',
  updated: 'Changed',
  created: 'Came',
  email: 'E-mail',
  next_step: 'Next step',
  tags: 'Tags',
  value: 'Value won',
}
/** What it shows until somebody chooses. */
export const USUAL_COLUMNS: ColumnKey[] = ['company', 'label', 'fit', 'interest', 'status', 'owner', 'waiting', 'updated']
const COLUMN = new RegExp(`^(${COLUMNS.join('|')}|p\\.[a-z][a-z0-9_]{0,39})$`)

/** The filters that the address of the table may say. */
const FILTERS = [
  'label',
  'owner',
  'list',
  'status',
  'search',
  'said',
  'waiting',
  'segment',
  'submitted',
  'tag',
  'point',
  'condition',
  ...COUNTED_NAMES,
  'sort',
  'order',
]
const isQuery = (value: unknown) =>
  isPlain(value) &&
  JSON.stringify(value).length <= 8000 &&
  Object.entries(value).every(
    ([key, v]) => FILTERS.includes(key) && [v].flat().every(one => typeof one === 'string') && [v].flat().length <= 100,
  )

/** A view of the table, as it is kept. */
export class ViewBody {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the view a name' }) name!: string
  @ValidateBy({
    name: 'isQuery',
    validator: { validate: isQuery, defaultMessage: () => `Send filters by their names, as texts: ${FILTERS.join(', ')}` },
  })
  query!: Record<string, string | string[]>
  @IsArray() @ArrayMaxSize(30) @Matches(COLUMN, { each: true, message: 'There is no such column' }) columns!: ColumnKey[]
}
export class NewView extends ViewBody {
  /** Everybody's. */
  @IsBoolean() shared!: boolean
}
export const SORTS_OF_COLUMNS = ['name', 'company', 'label', 'interest', 'fit', 'owner', 'status', 'created', 'updated', 'waiting']
