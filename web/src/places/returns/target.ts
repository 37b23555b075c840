/** Where something goes, and what: rolls by their tags, or those of a day. */
export interface Target {
  station: string
  folder: string
  tags: string[]
  day: string | null
}
