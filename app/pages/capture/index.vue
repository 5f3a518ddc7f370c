<script setup lang="ts">
import type { Place } from '#core/points/places'

useHead({ title: 'Capture – Cavlin' })
const days = ref(28)
const SPANS = [
  { n: 7, name: 'A week' },
  { n: 28, name: 'Four weeks' },
  { n: 90, name: '90 days' },
]
const { data, problem, refresh } = useLiveQuery(
  () => api<{ days: number; places: Place[] }>('/api/team/places', { query: { days: days.value } }),
  { leads: true, points: true, site: true },
  4000,
)
watch(days, refresh)
const most = computed(() => Math.max(1, ...(data.value?.places.map(p => p.visitors) ?? [])))
const sites = computed(() => new Set(data.value?.places.map(p => p.site)).size)
/** The bars share one scale, so that pages can be compared. */
const full = computed(() =>
  Math.max(0.05, ...(data.value?.places.flatMap(p => p.points.flatMap(o => (o.rate && !o.rate.tooFew ? [o.rate.high] : []))) ?? [])),
)
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>Places</h1>
      <span v-if="data?.places.some(p => p.missed)" class="honey">
        {{ count(data.places.filter(p => p.missed).length, 'page has many visitors and asks nothing', 'pages have many visitors and ask nothing') }}
      </span>
      <div class="spans" role="group" aria-label="Of how long">
        <Button
          v-for="span in SPANS"
          :key="span.n"
          :label="span.name"
          size="small"
          :variant="days === span.n ? 'outlined' : 'text'"
          :aria-pressed="days === span.n"
          @click="days = span.n"
        />
      </div>
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="data && !data.places.length" class="sheet empty">
      <h2>No page is known yet</h2>
      <p class="faded">Put a form's tag on a page of your site. From then on the page stands here, with how many see the form and fill it
        in.</p>
    </div>
    <div v-else-if="data" class="sheet scroll" role="region" aria-label="Places" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th>Page</th>
            <th class="v">Visitors</th>
            <th>What stands there</th>
            <th class="n">Seen</th>
            <th class="n">Begun</th>
            <th class="n">Finished</th>
            <th class="r">of the looks counted</th>
          </tr>
        </thead>
        <tbody v-for="place in data.places" :key="place.page">
          <tr
            v-for="(point, i) in place.points.length ? place.points : [null]"
            :key="point?.id ?? ''"
            :class="{ first: i === 0, missed: place.missed }"
          >
            <td v-if="i === 0" :rowspan="Math.max(1, place.points.length)">
              <b>{{ place.title ?? place.path }}</b>
              <br>
              <span class="faded small">{{ sites > 1 ? place.site : '' }}{{ place.path }}</span>
            </td>
            <td v-if="i === 0" class="v" :rowspan="Math.max(1, place.points.length)">
              <span class="count">{{ place.visitors || '–' }}</span>
              <span class="bar" aria-hidden="true"><span :style="{ width: `${100 * place.visitors / most}%` }" /></span>
            </td>
            <template v-if="point">
              <td><NuxtLink :to="`/capture/points/${point.id}`">{{ point.name }}</NuxtLink></td>
              <td class="n">{{ point.seen || '–' }}</td><td class="n">{{ point.started || '–' }}</td><td class="n">{{ point.finished }}</td>
              <td class="r">
                <RateBar v-if="point.rate" :value="point.rate" :hits="point.counted" :trials="point.seen" :full="full" />
                <span v-else class="faded small">not counted there</span>
              </td>
            </template>
            <td v-else colspan="5">
              <span v-if="place.missed" class="honey">Many come here, and nothing asks them.</span>
              <span v-else class="faded">Nothing</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="faded small note">Visitors, seen and begun are of people who agreed to be remembered; finished is of everybody. The rate
      compares like with like: of the looks that were counted, those that ended in an entry. The bar is where the true rate lies in 19 of 20
      such samples.</p>
  </div>
</template>

<style scoped>
.spans { margin-left: auto; display: flex; gap: 2px; }
.honey { color: var(--honey); }
td, th { padding: 8px 14px; vertical-align: top; }
tbody .first > td { border-top: 1px solid var(--rule); }
.v { width: 150px; }
.count { display: block; }
.bar { display: block; height: 5px; background: color-mix(in srgb, var(--rule) 60%, transparent); margin-top: 3px; }
.bar span { display: block; height: 100%; background: color-mix(in srgb, var(--spruce) 60%, var(--rule)); }
.missed .bar span { background: var(--honey-mark); }
.r { width: 27%; min-width: 210px; }
.note { margin-top: 10px; max-width: 70ch; }
</style>
