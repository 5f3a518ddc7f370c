<script setup lang="ts">
import { DateTime } from 'luxon'
import { BarController, BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip } from 'chart.js'

/** New leads by day, and how many of them have qualified at some time. */
const props = defineProps<{ days: { day: string; leads: number; qualified: number }[] }>()
Chart.defaults.font.family = '"Hanken Grotesk Variable", sans-serif'
Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip, Legend)
const canvas = ref<HTMLCanvasElement>()
let chart: Chart | undefined

function draw(): void {
  const style = getComputedStyle(document.documentElement)
  const color = (name: string) => style.getPropertyValue(name).trim()
  const data = {
    labels: props.days.map(d => DateTime.fromISO(d.day).toFormat('d LLL')),
    datasets: [
      { label: 'Qualified at some time', data: props.days.map(d => d.qualified), backgroundColor: color('--spruce'), stack: 'leads' },
      { label: 'Others', data: props.days.map(d => d.leads - d.qualified), backgroundColor: color('--rule'), stack: 'leads' },
    ],
  }
  if (chart) {
    chart.data = data
    chart.update('none')
    return
  }
  chart = new Chart(canvas.value!, {
    type: 'bar', data,
    options: {
      animation: false, maintainAspectRatio: false,
      scales: {
        x: { stacked: true, grid: { display: false }, ticks: { color: color('--faded'), maxTicksLimit: 10, maxRotation: 0 } },
        y: { stacked: true, beginAtZero: true, grid: { color: color('--rule') }, ticks: { color: color('--faded'), precision: 0 } },
      },
      plugins: { legend: { align: 'start', labels: { color: color('--ink'), boxWidth: 12, boxHeight: 12 } } },
    },
  })
}
onMounted(draw)
watch(() => props.days, draw)
onBeforeUnmount(() => chart?.destroy())
const total = computed(() => props.days.reduce((n, d) => n + d.leads, 0))
const qualified = computed(() => props.days.reduce((n, d) => n + d.qualified, 0))
</script>

<template>
  <div class="chart"><canvas ref="canvas" role="img" :aria-label="`New leads by day: ${total} in ${days.length} days, ${qualified} of them qualified at some time.`" /></div>
</template>

<style scoped>
.chart { height: 220px; }
</style>
