declare module 'virtual:guide' {
  /** The sections, for a table of contents. */
  export const headings: { anchor: string; title: string }[]
  const html: string
  export default html
}

declare module 'virtual:licences' {
  export const shipped: { name: string; version: string; licence: string }[]
}
