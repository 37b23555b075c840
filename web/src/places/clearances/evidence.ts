/** What a clearance was decided on, as `clearing/evidence.py` writes it; parts that earlier versions lack may be away. */
export interface Evidence {
  asked?: string
  ran?: string[]
  listing: { began_at: string; files?: number; bytes?: number }
  signatures: { by: string; name: string; at: string }[]
  waivers: { path: string; by: string; reason: string }[]
  holds_lifted?: {
    on: string
    by: string
    reason: string
    lifted_by: string
    lifted_at: string
    why: string
  }[]
  rolls: RollEvidence[]
}

export interface RollEvidence {
  roll: string
  asked?: string
  waived: number
  left_behind: number
  files: { count: number; bytes: number; sha256_of_list: string }
  copies: CopyEvidence[]
}

export interface CopyEvidence {
  store: string
  device?: string
  devices: string[]
  medium?: string
  location: string
  offsite?: boolean
  connected?: boolean
  folder: string
  counts?: boolean
  level: string
  read_at: string | null
  looked_at: string | null
  files?: number
  missing_files: number
  readings: ({ id: number; origin: string; began_at: string; level: string; files: number } | number)[]
}
