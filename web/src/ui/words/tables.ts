/** Tables out of the page: to the clipboard with tabs, to a file with commas. */
export type Cell = string | number | null | undefined

const plainCell = (cell: Cell): string => (cell === null || cell === undefined ? '' : String(cell))

function csvCell(cell: Cell): string {
  const text = plainCell(cell)
  // a text that a spreadsheet would take for a formula is made harmless
  const safe = typeof cell === 'string' && /^\s*[=+\-@]|^[\t\r\n]/.test(text) ? `'${text}` : text
  return /[",\n;]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe
}

export const asCsv = (headers: string[], rows: Cell[][]): string =>
  [headers, ...rows].map((row) => row.map(csvCell).join(',')).join('\n') + '\n'

export async function copyTable(headers: string[], rows: Cell[][]): Promise<void> {
  const text = [headers, ...rows].map((row) => row.map((cell) => plainCell(cell).replace(/\s+/g, ' ')).join('\t'))
  await navigator.clipboard.writeText(text.join('\n'))
}

export function downloadCsv(name: string, headers: string[], rows: Cell[][]): void {
  save(new Blob([asCsv(headers, rows)], { type: 'text/csv' }), `${name}.csv`)
}

export function save(content: Blob, fileName: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = fileName
  link.click()
  URL.revokeObjectURL(link.href)
}
