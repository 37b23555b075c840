import { type Catalogue, language, number, t } from './say'

const UNITS: readonly [string, number][] = [
  ['terabyte', 1e12],
  ['gigabyte', 1e9],
  ['megabyte', 1e6],
  ['kilobyte', 1e3],
]

/** What a store has that knows of no end, as the server says it. */
const UNBOUNDED = 2 ** 60

/** A size with three significant digits. 1 GB = 10^9 bytes, as drive makers count. */
export function bytes(count: number): string {
  if (count >= UNBOUNDED) return t('units.noLimit')
  for (const [unit, size] of UNITS) if (count >= 0.9995 * size) return inUnit(threeDigits(count / size), unit)
  return `${number(count)} B`
}

/** Rounded first, so that the digits are those of the rounded number. */
function threeDigits(value: number): { value: number; decimals: number } {
  const decimals = value >= 99.95 ? 0 : value >= 9.995 ? 1 : 2
  return { value, decimals }
}

const inUnit = ({ value, decimals }: { value: number; decimals: number }, unit: string): string =>
  new Intl.NumberFormat(language, {
    style: 'unit',
    unit,
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  }).format(value)

export const exactBytes = (count: number): string => t('units.exactBytes', { count: number(count) })

export const rate = (bytesPerSecond: number): string => t('units.perSecond', { bytes: bytes(bytesPerSecond) })

export type Countable = keyof Catalogue['counted']

/** So many of a thing, such as "1 clip" or "12 clips". */
export const counted = (count: number, what: Countable): string => t(`counted.${what}`, {}, count)
