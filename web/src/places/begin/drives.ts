/** A drive as it is chosen. name: what people will call it. place: where it is */
export interface Drive {
  path: string
  name: string
  medium: string
  place: string
  chosen: boolean
}
