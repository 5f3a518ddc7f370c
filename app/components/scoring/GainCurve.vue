<script setup lang="ts">
import { Chart, Legend, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js'

/** How many of those who reached the goal stand among the best by score, against any order; several cards side by side. */
const props = defineProps<{
  curves: { name: string; role: string; dash?: number[]; gains: { share: number; captured: number }[] }[]
  said: string
}>()
Chart.defaults.font.family = '"Hanken Grotesk Variable", sans-serif'
Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip, Legend)
const canvas = ref<HTMLCanvasElement>()
let chart: Chart<'line', { x: number; y: number }[]> | undefined

function draw(): void {
  const style = getComputedStyle(document.documentElement)
  const color = (name: string) => style.getPropertyValue(name).trim()
  const line = (label: string, role: string, points: { x: number; y: number }[], dash: number[] = []) => ({
    label,
    data: points,
    borderColor: color(`--${role}`),
    backgroundColor: color(`--${role}`),
    borderDash: dash,
    borderWidth: 2,
    pointRadius: 0,
    pointHitRadius: 8,
    tension: 0,
  })
  const datasets = [
    ...props.curves.map(c =>
      line(
        c.name,
        c.role,
        c.gains.map(g => ({ x: 100 * g.share, y: 100 * g.captured })),
        c.dash,
      ),
    ),
    line(
      'In any order',
      'faded',
      [
        { x: 0, y: 0 },
        { x: 100, y: 100 },
      ],
      [4, 4],
    ),
  ]
  if (chart) {
    chart.data = { datasets }
    chart.update('none')
    return
  }
  const axis = (text: string) => ({
    min: 0,
    max: 100,
    title: { display: true, text, color: color('--faded') },
    grid: { color: color('--rule') },
    ticks: { color: color('--faded'), stepSize: 20, callback: (n: unknown) => `${String(n)}%` },
  })
  chart = new Chart(canvas.value!, {
    type: 'line',
    data: { datasets },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { type: 'linear', ...axis('of all people, the best by score first') },
        y: { type: 'linear', ...axis('of those who reached it') },
      },
      plugins: {
        legend: { align: 'start', labels: { color: color('--ink'), boxWidth: 22, boxHeight: 2 } },
        tooltip: {
          callbacks: {
            title: items => `The best ${items[0]!.parsed.x}%`,
            label: item => `${item.dataset.label}: ${Math.round(item.parsed.y!)}%`,
          },
        },
      },
    },
  })
}
onMounted(() => {
  draw()
  // Letters on a canvas are drawn with the fonts that are there.
  void document.fonts.ready.then(() => chart?.update('none'))
})
watch(() => props.curves, draw)
onBeforeUnmount(() => chart?.destroy())
</script>

<template>
  <div class="chart"><canvas ref="canvas" role="img" :aria-label="said" /></div>
</template>

<style scoped>
.chart {
  height: 300px;
}
</style>
