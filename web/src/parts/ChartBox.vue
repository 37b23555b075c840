<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { BarChart, LineChart, ScatterChart } from 'echarts/charts'
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { init, use, type ECharts, type EChartsCoreOption } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { nextTick, onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { theme } from '../theme/choices'
import { looks, type Looks } from './chartLooks'

/**
 * A picture, in our own colours and type. answer: what it shows, for whoever does not see it; the figures themselves are
 * told beside it.
 */
const props = defineProps<{ answer: string; high: number; option: (of: Looks) => EChartsCoreOption }>()
use([
  AriaComponent,
  BarChart,
  CanvasRenderer,
  GridComponent,
  LineChart,
  MarkLineComponent,
  ScatterChart,
  TooltipComponent,
])
const box = useTemplateRef('box')
let chart: ECharts | undefined
const draw = () => chart?.setOption({ animation: false, ...props.option(looks()) }, true)
onMounted(() => {
  if (box.value) chart = init(box.value)
  draw()
})
watch(
  () => [theme.value, props.option, props.high] as const,
  async () => {
    await nextTick()
    chart?.resize()
    draw()
  },
)
useResizeObserver(box, () => chart?.resize())
onBeforeUnmount(() => chart?.dispose())
</script>

<template>
  <div ref="box" role="img" class="drawn" :aria-label="answer" :style="{ height: `${high}px` }" />
</template>

<style scoped>
.drawn {
  width: 100%;
}
</style>
