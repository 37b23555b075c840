/** What pictures are drawn with: the theme's own tokens, as they are now. */
export function looks() {
  const style = getComputedStyle(document.documentElement)
  const token = (name: string) => style.getPropertyValue(name).trim()
  const ink = token('--ink')
  const soft = token('--ink-soft')
  const hair = token('--hair')
  const text = { color: soft, fontFamily: token('--text'), fontSize: 14 }
  const axis = {
    axisLabel: text,
    axisLine: { lineStyle: { color: ink } },
    axisTick: { lineStyle: { color: ink } },
    splitLine: { lineStyle: { color: hair } },
    nameTextStyle: text,
  }
  return {
    ink,
    soft,
    hair,
    safe: token('--safe'),
    trouble: token('--trouble'),
    sheet: token('--sheet'),
    text,
    axis,
    tip: {
      backgroundColor: token('--sheet'),
      borderColor: ink,
      textStyle: { color: ink, fontFamily: token('--text'), fontSize: 14 },
    },
  }
}
export type Looks = ReturnType<typeof looks>
