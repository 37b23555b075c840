/** 1 GB = 10^9 bytes, as drive makers count. Three significant digits. */
export function bytes(count: number): string {
  const units: [string, number][] = [
    ['TB', 1e12],
    ['GB', 1e9],
    ['MB', 1e6],
    ['kB', 1e3],
  ]
  for (const [unit, size] of units) if (count >= 0.9995 * size) return `${threeDigits(count / size)} ${unit}`
  return `${count} B`
}

const threeDigits = (value: number): string =>
  value >= 99.95 ? value.toFixed(0) : value >= 9.995 ? value.toFixed(1) : value.toFixed(2)

export const exactBytes = (count: number): string => `${count.toLocaleString('en')} bytes`

export const counted = (count: number, one: string, many = one + 's'): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`
