import type { Cell } from './words/tables'

/** A column of a table, declared once: its head, and what each row has in it. */
export interface Column<Row> {
  key: string
  title: string
  /** Behind the title, and in the head of the file; never in the cells. */
  unit?: string
  /** Numbers stand to the right, one width a digit. */
  number?: boolean
  /** As it is sorted, filtered, copied and written to the file. */
  value: (row: Row) => Cell
  /** As it is shown, where that differs; a slot named after the key shows anything else. */
  text?: (row: Row) => string
  /** Only in the file and in what is copied. */
  onlyCopied?: boolean
  /** Not shown until it is asked for. */
  hidden?: boolean
  /** False where rows cannot be put in the order of this column. */
  sortable?: boolean
  /** False for a column that is always shown. */
  choosable?: boolean
}

/** The head of a column in the file: its name and unit. */
export const headOf = <Row>(column: Column<Row>): string => (column.unit ? `${column.title}, ${column.unit}` : column.title)

/** The order of two cells, rising: numbers by size, words as they are read. What is missing is left to the table, which puts it last. */
export const inOrder = (one: Cell, other: Cell): number =>
  typeof one === 'number' && typeof other === 'number'
    ? one - other
    : String(one).localeCompare(String(other), undefined, { numeric: true, sensitivity: 'base' })
