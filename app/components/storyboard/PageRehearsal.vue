<script setup lang="ts">
import { Check, X } from 'lucide-vue-next'
import { DateTime } from 'luxon'
import { applying, hasOrder } from '#core/appearing/definition'
import { masked, ofNobody } from '#core/appearing/masked'
import { speaksInstead, verdicts, type Memory, type Situation } from '#core/appearing/decide'
import { whys } from '#core/appearing/why'
import { inWords } from '#core/conditions/words'
import type { PointDefinition } from '#core/points/definition'
import type { Place } from '#core/points/places'
import type { LiveVisitView, SpeakerView } from '#core/team'
import { pageAttributes } from '#core/appearing/pages'
import { holds } from '#core/conditions/condition'

/** Any page of the site with the point on it, at a moment and for a visitor that one chooses; and for each rule whether it holds then. */
const props = defineProps<{ definition: PointDefinition; pointKey: string }>()
const house = useHouse()
const say = useToasts()
const a = computed(() => applying(props.definition.display))
const { data: places } = useLiveQuery(async () => (await api<{ places: Place[] }>('/api/team/places')).places, {})
const typed = ref('')
/** Unless another is asked for, the page with the most visitors on which it may show. */
const usual = computed(
  () =>
    (
      places.value?.find(
        p => URL.canParse(p.page) && (!a.value.pages || holds(a.value.pages, pageAttributes(new URL(p.page), p.title ?? ''))),
      ) ?? places.value?.[0]
    )?.page ?? '',
)
const page = computed(() => typed.value.trim() || usual.value)
const address = computed(() => (URL.canParse(page.value) && /^https?:/.test(page.value) ? new URL(page.value) : null))
/** Waits until somebody has stopped typing. */
const shown = ref('')
let soon: ReturnType<typeof setTimeout> | undefined
watch(
  address,
  url => {
    clearTimeout(soon)
    soon = setTimeout(() => {
      shown.value = url ? `${url.href.split('#')[0]}#cavlin-rehearsal` : ''
    }, 500)
  },
  { immediate: true },
)
onScopeDispose(() => clearTimeout(soon))

const seconds = ref(0)
const scrolled = ref(0)
const pages = ref(1)
const leaving = ref(false)
const returning = ref(false)
const device = ref<'computer' | 'phone' | 'tablet'>('computer')
const source = ref('direct')
/** Why did it not show? A page of a recorded visit sets the stage as it was when that page was left. */
const { data: visits } = useLiveQuery(() => api<LiveVisitView[]>('/api/team/visits?lately'), {})
const recorded = computed(() =>
  (visits.value ?? []).flatMap(v =>
    v.pages.map((p, i) => ({
      key: `${v.id} ${i}`,
      v,
      p,
      i,
      name: `${v.lead?.name ?? 'Somebody'}, ${ago(new Date(p.at).toISOString())}: ${p.path}${p.seconds ? `, ${duration(p.seconds)}` : ''}`,
    })),
  ),
)
const replayed = ref<string | null>(null)
const then = ref<number | null>(null)
function replay(key: string | null): void {
  const page = recorded.value.find(r => r.key === key)
  then.value = page ? page.p.at + page.p.seconds * 1000 : null
  if (!page) return
  const { v, p, i } = page
  typed.value = v.site + p.path
  seconds.value = p.seconds
  scrolled.value = p.depth
  pages.value = i + 1
  leaving.value = false
  returning.value = v.returning
  device.value = v.device === 'phone' || v.device === 'tablet' ? v.device : 'computer'
  source.value = v.source
  const acts = v.pages.slice(0, i + 1).flatMap(q => q.acts)
  happened.value = acts.flatMap(act => (act.kind === 'event' ? [act.name] : []))
  const own = acts.filter(act => act.kind === 'point' && act.point === props.pointKey)
  past.value = own.some(act => act.kind === 'point' && act.reached === 'finished') ? 'answered' : 'nothing'
  said.value = mask.value.ours.map(() => false)
  const tests = mask.value.ours
  if (tests.length)
    api<{ said: boolean[] }>('/api/team/visits/judged', { method: 'POST', body: { visit: v.id, point: props.pointKey, tests } }).then(
      judged => {
        said.value = judged.said
      },
      say.failed,
    )
}
const past = ref<'nothing' | 'closed' | 'answered' | 'shown'>('nothing')
const said = ref<boolean[]>([])
const happened = ref<string[]>([])
const waits = computed(() => [...new Set(a.value.moments.flatMap(m => ('what' in m ? [m.what] : [])))])

const mask = computed(() => masked(a.value.audience))
const names = useAttributeNames()
const clock = useNow()
const now = computed(() => then.value ?? clock.value)
const situation = computed<Situation>(() => {
  const there = DateTime.fromMillis(now.value, { zone: house.words!.house.zone })
  const url = address.value
  return {
    page: {
      address: url ? url.origin + url.pathname : '',
      path: url?.pathname ?? '/',
      title: places.value?.find(p => url && p.page === url.origin + url.pathname)?.title ?? '',
      query: Object.fromEntries(url?.searchParams ?? []),
    },
    seconds: seconds.value,
    idle: seconds.value,
    scrolled: scrolled.value,
    leaving: leaving.value,
    pages: pages.value,
    clicked: happened.value,
    events: happened.value,
    visitor: { returning: returning.value, source: source.value, language: navigator.language.slice(0, 2), device: device.value },
    small: device.value === 'phone',
    day: there.toISODate()!,
    weekday: there.weekday,
    hour: there.hour,
    now: now.value,
    typing: false,
  }
})
const memory = computed<Memory>(() =>
  past.value === 'closed'
    ? { closedAt: now.value - 3_600_000 }
    : past.value === 'answered'
      ? { answeredAt: now.value - 3_600_000 }
      : past.value === 'shown'
        ? { shown: a.value.rest.perVisit }
        : {},
)
const lines = computed(() =>
  whys(
    verdicts({ ...a.value, audience: mask.value.audience }, situation.value, memory.value, said.value),
    a.value,
    situation.value,
    memory.value,
    names.value,
  ),
)
/** Those that come before it in the order, of whose visitor nothing is known but what is set here. */
const { data: speakers } = useLiveQuery(
  () => api<SpeakerView[]>('/api/team/appearing'),
  { points: true, appearing: true, styles: true },
  1000,
)
const list = computed(() =>
  (speakers.value ?? []).map(({ key, name, display }) => ({ ...applying(display), key, name, ...masked(display.audience) })),
)
const closed = ref<string[]>([])
const insteadOf = (silent: string[]) =>
  speaksInstead(
    list.value,
    props.pointKey,
    a.value.placement,
    situation.value,
    key => (silent.includes(key) ? { closedAt: now.value - 3_600_000 } : {}),
    s => ofNobody(s.ours),
  )
const instead = computed(() => insteadOf(closed.value))
/** Who would speak in its place, one after the other closed by the visitor. */
const rivals = computed(() => {
  const found: { key: string; name: string }[] = []
  for (let next = insteadOf([]); next; next = insteadOf(found.map(f => f.key))) {
    if (found.some(f => f.key === next!.key)) break
    found.push({ key: next.key, name: next.name })
  }
  return found
})
const rulesHold = computed(() => lines.value.every(l => l.holds))
const shows = computed(() => rulesHold.value && !instead.value)
const why = computed(() => {
  const failing = lines.value.filter(l => !l.holds).length
  if (failing) return `${failing === 1 ? 'One rule does' : `${failing} rules do`} not hold: it does not show.`
  return instead.value ? `“${instead.value.name}” comes before it in the order and speaks instead.` : ''
})
const RULES: Record<string, string> = {
  pages: 'Page',
  except: 'Left out',
  moment: 'Moment',
  audience: 'Audience',
  period: 'Time',
  rest: 'Rest',
  small: 'Screen',
  typing: 'Typing',
}
const PAST = [
  { key: 'nothing', name: 'never saw it' },
  { key: 'shown', name: 'saw it in this visit' },
  { key: 'closed', name: 'closed it an hour ago' },
  { key: 'answered', name: 'answered it an hour ago' },
]
const DEVICES = [
  { key: 'computer', name: 'a computer' },
  { key: 'phone', name: 'a phone' },
  { key: 'tablet', name: 'a tablet' },
]
/** The page is drawn at the width it has for visitors and then made small. */
const stage = ref<HTMLElement>()
const width = ref(600)
const wide = computed(() => (device.value === 'phone' ? 390 : device.value === 'tablet' ? 820 : 1280))
const scale = computed(() => width.value / wide.value)
const high = computed(() => (device.value === 'phone' ? 780 : 800))
const TALL = 3000
const observer = new ResizeObserver(([entry]) => {
  width.value = entry!.contentRect.width
})
onMounted(() => observer.observe(stage.value!))
onScopeDispose(() => observer.disconnect())
</script>

<template>
  <section class="rehearsal" aria-label="Rehearsal">
    <h2>Would it show?</h2>
    <div class="stagehand">
      <label for="rehearsal-page" class="unseen">Page of the site</label>
      <InputText
        id="rehearsal-page"
        v-model="typed"
        size="small"
        list="rehearsal-pages"
        :placeholder="usual || 'The address of a page of your site'"
        fluid
        maxlength="2000"
      />
      <datalist id="rehearsal-pages"><option v-for="p in places ?? []" :key="p.page" :value="p.page">{{ p.title }}</option></datalist>
    </div>
    <div v-if="recorded.length" class="stagehand">
      <Select
        v-model="replayed"
        :options="recorded"
        option-label="name"
        option-value="key"
        size="small"
        show-clear
        filter
        placeholder="Why did it not show? Choose a page of a recorded visit"
        aria-label="A page of a recorded visit"
        fluid
        @update:model-value="replay"
      />
    </div>
    <div class="theatre">
      <div ref="stage" class="window" :class="device" :style="{ height: `${high * scale}px` }">
        <div class="whole" :style="{ width: `${wide}px`, height: `${high}px`, transform: `scale(${scale})` }">
          <iframe
            v-if="shown"
            :key="shown"
            :src="shown"
            title="The page, as visitors see it"
            sandbox="allow-scripts allow-same-origin"
            :style="{ height: `${TALL}px`, transform: `translateY(${-(TALL - high) * scrolled / 100}px)` }"
            inert
          />
          <StoryboardAppearFrame v-if="shows" :definition="definition" class="over" :bare="Boolean(shown)" />
        </div>
        <p v-if="why" class="not" role="status">{{ why }}</p>
      </div>
      <div class="controls">
        <label for="r-seconds">Seconds on the page <b>{{ seconds }}</b></label>
        <input id="r-seconds" v-model.number="seconds" type="range" min="0" :max="Math.max(180, seconds)">
        <label for="r-scrolled">Scrolled <b>{{ scrolled }}%</b></label>
        <input id="r-scrolled" v-model.number="scrolled" type="range" min="0" max="100" step="5">
        <label for="r-pages">Pages in this visit <b>{{ pages }}</b></label>
        <input id="r-pages" v-model.number="pages" type="range" min="1" max="12">
        <label class="tick"><Checkbox v-model="leaving" binary input-id="r-leaving" /> about to leave</label>
        <label class="tick"><Checkbox v-model="returning" binary input-id="r-returning" /> was here before</label>
        <label v-for="what in waits" :key="what" class="tick">
          <Checkbox v-model="happened" :value="what" :input-id="`r-${what}`" /> {{ what }} happened</label>
        <label v-for="(test, i) in mask.ours" :key="i" class="tick">
          <Checkbox :model-value="said[i] ?? false" binary :input-id="`r-said-${i}`" @update:model-value="said[i] = $event" />
          {{ inWords(test, names) }}
        </label>
        <label for="r-device">On</label>
        <Select
          v-model="device"
          input-id="r-device"
          :options="DEVICES"
          option-label="name"
          option-value="key"
          size="small"
          aria-label="On which device"
        />
        <label for="r-source">From</label><InputText id="r-source" v-model="source" size="small" maxlength="100" />
        <label for="r-past">Who</label>
        <Select
          v-model="past"
          input-id="r-past"
          :options="PAST"
          option-label="name"
          option-value="key"
          size="small"
          aria-label="What they did before"
        />
        <label v-for="r in rivals" :key="r.key" class="tick">
          <Checkbox v-model="closed" :value="r.key" :input-id="`r-closed-${r.key}`" /> closed “{{ r.name }}” an hour ago</label>
      </div>
    </div>
    <ul class="rules" aria-label="Rules">
      <li v-for="line in lines" :key="line.rule" :class="{ fails: !line.holds }">
        <component :is="line.holds ? Check : X" :size="15" :aria-label="line.holds ? 'holds' : 'does not hold'" />
        <b>{{ RULES[line.rule] }}</b>
        <span>{{ line.asks }}</span>
        <span class="faded">{{ line.is }}</span>
      </li>
      <li v-if="hasOrder(a.placement)" :class="{ fails: instead }">
        <component :is="instead ? X : Check" :size="15" :aria-label="instead ? 'does not hold' : 'holds'" />
        <b>Order</b>
        <span>the first whose rules hold</span>
        <span class="faded">
          <template v-if="instead">“{{ instead.name }}” speaks; see <NuxtLink to="/capture/appearing">the order</NuxtLink></template>
          <template v-else>nobody before it</template>
        </span>
      </li>
    </ul>
    <p v-if="shown" class="faded small">A page that stays empty does not let itself be framed; the rules hold all the same. Nothing of this
      is recorded.</p>
  </section>
</template>

<style scoped>
.rehearsal { display: grid; gap: 8px; margin-bottom: 26px; }
.theatre { display: grid; grid-template-columns: minmax(0, 1fr) 190px; gap: 16px; }
.window { position: relative; overflow: hidden; border: 1px solid var(--rule); background: #fff; min-width: 0; }
.window.phone { width: 260px; justify-self: center; border-radius: 14px; }
iframe { position: absolute; inset: 0 0 auto; width: 100%; border: 0; pointer-events: none; }
.over { position: absolute; inset: 0; height: 100%; border: 0; }
.whole { position: absolute; inset: 0 auto auto 0; transform-origin: 0 0; }
.not { position: absolute; inset: auto 12px 12px; padding: 6px 12px; background: #fffdf9; color: #1d2a2b; border-left: 3px solid #b7791f; font-size: 14px; }
.controls { display: grid; gap: 3px; align-content: start; font-size: 13px; line-height: 18px; }
.controls label { color: var(--faded); margin-top: 4px; }
.controls b { color: var(--ink); font-variant-numeric: tabular-nums; }
.controls .tick { display: flex; gap: 8px; align-items: center; overflow-wrap: anywhere; }
input[type=range] { accent-color: var(--spruce); width: 100%; min-height: 24px; margin: 0; }
.rules { list-style: none; margin: 0; padding: 0; font-size: 14px; line-height: 20px; }
.rules li { display: grid; grid-template-columns: 20px 84px minmax(0, 1.4fr) minmax(0, 1fr); gap: 8px; align-items: center; padding: 4px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
.rules svg { color: var(--spruce); } .fails svg { color: var(--brick); } .fails b { color: var(--brick); }
@media (max-width: 1100px) { .theatre { grid-template-columns: minmax(0, 1fr); } .rules li { grid-template-columns: 20px 1fr; } .rules li span { grid-column: 2; } }
</style>
