export type Cell = string | number | Date | null | undefined
/** A table to take away: its columns, and its rows as they come. */
export interface Sheet {
  name: string
  columns: string[]
  rows: AsyncIterable<Cell[]> | Iterable<Cell[]>
}
