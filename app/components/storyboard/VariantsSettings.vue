<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import type { PointDefinition } from '#core/points/definition'
import { MOST_VARIANTS, nextVariant, OWN, experimentOf, variantsOf, type Variant } from '#core/points/variants'
import type { PointView, ExperimentView } from '#core/team'

/** Other variants to try, how they do, and keeping the one that does better. */
const definition = defineModel<PointDefinition>({ required: true })
const props = defineProps<{ point: PointView; disabled: boolean; invites: boolean }>()
const emit = defineEmits<{ keep: [key: string] }>()
const { data: experiment, refresh } = useLiveQuery(
  () => api<ExperimentView>(`/api/team/points/${props.point.id}/experiment`),
  { trail: true, leads: true, points: [props.point.id] },
  2000,
)
watch(
  () => props.point.live?.number,
  () => void refresh(),
)

const all = computed(() => variantsOf(definition.value))
const running = computed(() => Boolean(experiment.value?.experiment) && experiment.value!.experiment === experimentOf(definition.value))
const resultOf = (key: string) => (running.value ? experiment.value!.variants.find(w => w.key === key) : undefined)
const set = (variants: Variant[]) => {
  definition.value = { ...definition.value, variants }
}
function add(): void {
  const own = all.value[0]!
  set([...definition.value.variants, { ...own, key: nextVariant(definition.value.variants.map(w => w.key)) }])
}
const change = (key: string, more: Partial<Variant>) => set(definition.value.variants.map(w => (w.key === key ? { ...w, ...more } : w)))
const HANDFUL = 12
const tooFew = computed(() => !experiment.value || experiment.value.variants.some(w => w.seen < HANDFUL))
const leader = computed(() =>
  running.value && !tooFew.value ? experiment.value!.variants.reduce((m, w) => (w.best > m.best ? w : m)) : null,
)
/** The bars share a scale that ends where the farthest of them does. */
const full = computed(() => Math.min(1, Math.max(0.02, ...(experiment.value?.variants.map(w => w.rate.high) ?? [1])) * 1.1))
/** What keeping it costs, in people: of a thousand visitors, on average, the chance included that another is better. */
const people = (share: number) => (share * 1000 < 0.5 ? 'fewer than one' : `about ${Math.round(share * 1000)}`)
const sure = (share: number) =>
  share > 0.999 ? 'over 99.9%' : share < 0.001 ? 'under 0.1%' : `${(share * 100).toFixed(share > 0.99 || share < 0.01 ? 1 : 0)}%`
</script>

<template>
  <fieldset class="variants" :disabled="disabled">
    <legend><h2>Wordings</h2></legend>
    <p v-if="all.length === 1" class="faded">Try another title, text or button beside this one. Visitors who agreed to be remembered are
      split evenly, each always sees the same, and what comes of it is counted here.</p>
    <template v-else>
      <p v-if="!running" class="faded small">
        {{ point.live ? 'These wordings are not live yet. Each change of a text begins a new comparison, counted from nothing.' : 'The comparison begins once the form is live.' }}
      </p>
      <p v-else-if="leader" class="verdict" role="status">
        <b>{{ leader.key.toUpperCase() }} is the best with a probability of {{ sure(leader.best) }}.</b> Of 1,000 visitors, keeping it loses
        {{ people(leader.loss) }} against the better one, on average.</p>
      <p v-else class="verdict" role="status">
        <b>Too few to tell.</b> Each wording needs {{ HANDFUL }} visitors before it is worth a look.</p>
      <ul>
        <li v-for="w in all" :key="w.key">
          <div class="line"><b>{{ w.key.toUpperCase() }}</b><span class="title">{{ w.title || 'No title' }}</span></div>
          <template v-if="resultOf(w.key)">
            <div class="line small figures">
              <RateBar :value="resultOf(w.key)!.rate" :hits="resultOf(w.key)!.answered" :trials="resultOf(w.key)!.seen" :full="full" />
            </div>
            <p v-if="!tooFew" class="small faded figures">
              {{ resultOf(w.key)!.answered }} of {{ count(resultOf(w.key)!.seen, 'visitor', 'visitors') }}. Best with
              {{ sure(resultOf(w.key)!.best) }}; of 1,000 visitors, keeping it loses {{ people(resultOf(w.key)!.loss) }}
            </p>
          </template>
          <template v-if="w.key !== OWN && invites">
            <label :for="`w-${w.key}-invitation`">Invites with</label>
            <InputText
              :id="`w-${w.key}-invitation`"
              :model-value="w.invitation"
              size="small"
              fluid
              maxlength="400"
              :placeholder="w.title"
              @update:model-value="change(w.key, { invitation: $event ?? '' })"
            />
            <label :for="`w-${w.key}-open`">The button that opens it says</label>
            <InputText
              :id="`w-${w.key}-open`"
              :model-value="w.open"
              size="small"
              fluid
              maxlength="60"
              @update:model-value="change(w.key, { open: $event ?? '' })"
            />
          </template>
          <div v-if="!disabled" class="line">
            <Button
              label="Keep this one"
              :aria-label="`Keep wording ${w.key.toUpperCase()}`"
              size="small"
              variant="outlined"
              @click="emit('keep', w.key)"
            />
            <Button
              v-if="w.key !== OWN"
              label="Take out"
              :aria-label="`Take wording ${w.key.toUpperCase()} out`"
              size="small"
              variant="text"
              severity="secondary"
              @click="set(definition.variants.filter(o => o.key !== w.key))"
            />
          </div>
        </li>
      </ul>
      <p class="faded small">Counted are visitors who saw it, and those of them who sent an entry. Few visitors tell little, and that is in
        all these figures: “best” is how likely it is that more people answer to this wording than to any other, “loses” how many fewer
        answer to it than to the better one, as far as we can tell.</p>
    </template>
    <Button
      v-if="!disabled && all.length < MOST_VARIANTS"
      label="Try another wording"
      size="small"
      :variant="all.length === 1 ? undefined : 'text'"
      class="more"
      @click="add"
    >
      <template #icon><Plus :size="14" aria-hidden="true" /></template>
    </Button>
  </fieldset>
</template>

<style scoped>
.variants { margin: 0; padding: 0; border: 0; display: grid; gap: 8px; min-width: 0; }
legend { padding: 0; }
ul { list-style: none; margin: 0; padding: 0; }
li { display: grid; gap: 4px; padding: 10px 0; border-top: 1px solid var(--rule); min-width: 0; }
.line { display: flex; gap: 10px; align-items: center; min-width: 0; } .line > b { flex: none; }
.title { overflow-wrap: anywhere; }
label { font-size: 13px; line-height: 18px; color: var(--faded); }
.verdict { padding: 8px 12px; border-left: 3px solid var(--slate); background: var(--sheet); }
.more { justify-self: start; }
</style>
