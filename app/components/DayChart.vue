<script setup lang="ts">
import { DateTime } from 'luxon'
import { BarController, BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip } from 'chart.js'

/** Counts by day, one on the other or side by side. `role`: the colour's role. */
const props = defineProps<{
  days: string[]
  series: { label: string; role: string; values: number[] }[]
  stacked?: boolean
  said: string
}>()
Chart.defaults.font.family = '"Hanken Grotesk Variable", sans-serif'
Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip, Legend)
const canvas = ref<HTMLCanvasElement>()
let chart: Chart | undefined

function draw(): void {
  const style = getComputedStyle(document.documentElement)
  const color = (name: string) => style.getPropertyValue(name).trim()
  const data = {
    labels: props.days.map(d => DateTime.fromISO(d).toFormat('d LLL')),
    datasets: props.series.map(({ label, role, values }) => ({
      label,
      data: values,
      backgroundColor: color(`--${role}`),
      ...(props.stacked && { stack: 'all' }),
    })),
  }
  if (chart) {
    chart.data = data
    chart.update('none')
    return
  }
  chart = new Chart(canvas.value!, {
    type: 'bar',
    data,
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { stacked: props.stacked, grid: { display: false }, ticks: { color: color('--faded'), maxTicksLimit: 10, maxRotation: 0 } },
        y: {
          stacked: props.stacked,
          beginAtZero: true,
          grid: { color: color('--rule') },
          ticks: { color: color('--faded'), precision: 0 },
        },
      },
      plugins: { legend: { align: 'start', labels: { color: color('--ink'), boxWidth: 12, boxHeight: 12 } } },
    },
  })
}
onMounted(draw)
watch(() => [props.days, props.series], draw)
onBeforeUnmount(() => chart?.destroy())
</script>

<template>
  <div class="chart"><canvas ref="canvas" role="img" :aria-label="said" /></div>
</template>

<style scoped>
.chart { height: 220px; }
</style>
