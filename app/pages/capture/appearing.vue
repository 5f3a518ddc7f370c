<script setup lang="ts">
import { ArrowDown, ArrowUp } from 'lucide-vue-next'
import { applying, hasOrder, isUninvited, type DisplayRules } from '#core/appearing/definition'
import { whys } from '#core/appearing/why'
import type { SpeakerView } from '#core/team'

useHead({ title: 'What appears – Cavlin' })
const session = useSession()
const say = useToasts()
/** Those that come uninvited and floating buttons have an order; what stands in the text or behind a button needs none. */
const {
  data: speakers,
  problem,
  refresh,
} = useLiveQuery(
  async () =>
    (await api<SpeakerView[]>('/api/team/appearing')).sort(
      (a, b) => Number(hasOrder(b.display.placement)) - Number(hasOrder(a.display.placement)),
    ),
  { points: true, appearing: true, styles: true },
  600,
)
const last = computed(() => (speakers.value?.filter(s => hasOrder(s.display.placement)).length ?? 0) - 1)
const names = useAttributeNames()
const PLACEMENTS = {
  over: 'Over the page',
  edge: 'Edge bar',
  corner: 'Corner card',
  float: 'Floating button',
  text: 'In the text',
  button: 'Behind a button',
}
const NOWHERE = {
  page: { address: '', path: '', title: '', query: {} },
  seconds: 0,
  idle: 0,
  scrolled: 0,
  leaving: false,
  pages: 1,
  clicked: [],
  events: [],
  visitor: { returning: false, source: '', language: '', device: '' },
  small: false,
  day: '',
  weekday: 1,
  hour: 0,
  now: 0,
  typing: false,
}
/** What the rules ask, without anybody they are asked of. */
function asks(a: DisplayRules): Record<string, string> {
  return Object.fromEntries(
    whys(
      [
        { rule: 'pages', holds: true },
        { rule: 'except', holds: true },
        { rule: 'moment', holds: true },
        { rule: 'audience', holds: true },
        { rule: 'period', holds: true },
      ],
      applying(a),
      NOWHERE,
      {},
      names.value,
    ).map(w => [w.rule, w.asks]),
  )
}
const said = ref('')
async function move(i: number, by: 1 | -1): Promise<void> {
  const list = speakers.value!.map(s => s.id)
  const [id] = list.splice(i, 1)
  list.splice(i + by, 0, id!)
  try {
    await api('/api/team/appearing/order', { method: 'PUT', body: { points: list } })
    await refresh()
    said.value = `${speakers.value![i + by]!.name} is number ${i + by + 1} now.`
    await nextTick()
    document.querySelector<HTMLElement>(`[data-move="${id}-${by}"]:not([disabled]), [data-move^="${id}"]:not([disabled])`)?.focus()
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>What appears</h1>
      <span class="faded">where several could at the same moment, the upper one speaks; never two at a time, and never two floating
        buttons</span>
    </div>
    <p class="unseen" aria-live="polite">{{ said }}</p>
    <p v-if="problem && !speakers" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="speakers && !speakers.length" class="sheet empty">
      <h2>Nothing appears by itself</h2>
      <p class="faded">A form can show by itself on pages that carry the <NuxtLink to="/settings/site">site’s tag</NuxtLink>: over the page,
        along an edge, in a corner. Open a form, go to “Where it stands”, and say when.</p>
    </div>
    <div v-else-if="speakers" class="sheet scroll" role="region" aria-label="What appears" tabindex="0">
      <table class="figures">
        <thead><tr><th>Order</th><th>Point</th><th>How</th><th>Pages</th><th>Moment</th><th>To whom</th></tr></thead>
        <tbody>
          <tr v-for="(s, i) in speakers" :key="s.id">
            <td class="order">
              <span v-if="i <= last" class="place">{{ i + 1 }}</span>
              <template v-if="i <= last && session.may('edit points')">
                <Button
                  variant="text"
                  size="small"
                  severity="secondary"
                  :data-move="`${s.id}--1`"
                  :disabled="i === 0"
                  :aria-label="`${s.name}: speaks earlier`"
                  @click="move(i, -1)"
                >
                  <ArrowUp :size="15" aria-hidden="true" />
                </Button>
                <Button
                  variant="text"
                  size="small"
                  severity="secondary"
                  :data-move="`${s.id}-1`"
                  :disabled="i === last"
                  :aria-label="`${s.name}: speaks later`"
                  @click="move(i, 1)"
                >
                  <ArrowDown :size="15" aria-hidden="true" />
                </Button>
              </template>
            </td>
            <td><NuxtLink :to="`/capture/points/${s.id}`">{{ s.name }}</NuxtLink><br><span class="faded small">“{{ s.title }}”</span></td>
            <td>
              {{ PLACEMENTS[s.display.placement] }}<br>
              <span v-if="isUninvited(s.display.placement)" class="faded small">
                {{ s.display.small ? 'any screen' : 'large screens' }}
              </span>
            </td>
            <td>
              {{ asks(s.display).pages }}<template v-if="s.display.except">
                <br>
                <span class="faded small">{{ asks(s.display).except }}</span>
              </template>
            </td>
            <td>
              {{ isUninvited(s.display.placement) ? asks(s.display).moment : s.display.placement === 'button' || s.display.placement === 'float' ? 'when it is pressed' : 'as soon as the page is there' }}<template
                v-if="asks(s.display).period !== 'always'"
              >
                <br>
                <span class="faded small">{{ asks(s.display).period }}</span>
              </template>
            </td>
            <td>{{ asks(s.display).audience }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.page { max-width: 1240px; margin: 0 auto; display: grid; gap: 14px; }
.head { display: flex; flex-wrap: wrap; gap: 4px 14px; align-items: baseline; }
.order { white-space: nowrap; }
.place { display: inline-block; min-width: 1.4em; font-variant-numeric: tabular-nums; }
td, th { padding: 8px 14px 8px 12px; vertical-align: top; border-bottom: 1px solid var(--rule); }
.empty { padding: 24px; }
</style>
