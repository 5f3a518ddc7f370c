<script setup lang="ts">
import { ArrowDown, ArrowUp, Plus } from 'lucide-vue-next'
import type { Condition } from '#core/conditions/condition'
import type { CardCheck } from '#core/scoring/checks'
import { addRule, changeRule, moveRule, removeRule, type Axis, type RuleChange } from '#core/scoring/edit'
import type { FitRule, InterestRule, Scorecard } from '#core/scoring/scorecard'

/** The rules of one axis: name, what they ask, and their points, all changed where they stand. */
const card = defineModel<Scorecard>({ required: true })
const props = defineProps<{ axis: Axis; checks: CardCheck[]; disabled: boolean }>()
const inWords = useConditionWords()
const { leadAttributes, activityAttributes } = useLeadAttributes()
const opened = ref<string | null>(null)
const rules = computed<(FitRule | InterestRule)[]>(() => card.value[props.axis])
const KINDS: { key: InterestRule['on']; name: string; says: string; did: 'entry' | 'page' | 'event' }[] = [
  { key: 'entry', name: 'An entry', says: 'An entry', did: 'entry' },
  { key: 'page_view', name: 'A page that is read', says: 'A page, once a day', did: 'page' },
  { key: 'event', name: 'An event of the site', says: 'An event of the site, once a day', did: 'event' },
]
const isInterest = (rule: FitRule | InterestRule): rule is InterestRule => 'on' in rule
const says = (rule: FitRule | InterestRule) =>
  isInterest(rule)
    ? `${KINDS.find(k => k.key === rule.on)!.says}${rule.when ? `: ${inWords(rule.when)}` : ''}`
    : inWords(rule.when)
/** What the rules of the score may ask: not for the score. */
const SCORE = new Set(['fit', 'interest', 'label'])
const fitAttributes = computed(() => leadAttributes.value.filter(a => !SCORE.has(a.name)))
const ownAttributes = (rule: InterestRule) => {
  const all = activityAttributes(KINDS.find(k => k.key === rule.on)!.did)
  return rule.on === 'event' ? all.filter(a => !a.name.startsWith('page.')) : all
}
const of = (i: number) => props.checks.filter(c => c.place === `${props.axis}.${i}`)
const put = (key: string, change: RuleChange) => {
  card.value = changeRule(card.value, props.axis, key, change)
}
function add(): void {
  const next = addRule(card.value, props.axis)
  const { key } = next[props.axis].at(-1)!
  card.value = next
  opened.value = key
  void nextTick(() => document.getElementById(`rule-${key}`)?.focus())
}
const NOTHING: Condition = { all: [] }
</script>

<template>
  <div>
    <ol class="rules">
      <li v-for="(rule, i) in rules" :key="rule.key" :class="{ off: rule.off }">
        <div class="row">
          <InputText
            :id="`rule-${rule.key}`"
            class="name"
            size="small"
            :model-value="rule.name"
            maxlength="200"
            :disabled="disabled"
            :aria-label="`Name of rule ${i + 1}`"
            @change="put(rule.key, { name: ($event.target as HTMLInputElement).value.trim() || rule.name })"
          />
          <ScoringPointsInput
            :model-value="rule.points"
            :called="`Points of ${rule.name}`"
            :disabled="disabled"
            @update:model-value="put(rule.key, { points: $event })"
          />
        </div>
        <p class="what">
          <button type="button" class="says" :aria-expanded="opened === rule.key" @click="opened = opened === rule.key ? null : rule.key">
            {{ says(rule) }}
          </button>
          <span v-if="rule.off" class="faded small">off</span>
        </p>
        <p v-if="rule.note && opened !== rule.key" class="faded small">{{ rule.note }}</p>
        <p v-for="c in of(i)" :key="c.message" class="small" :class="c.level === 'stop' ? 'brick' : 'honey'">{{ c.message }}</p>
        <div v-if="opened === rule.key" class="open">
          <template v-if="isInterest(rule)">
            <label :id="`on-${rule.key}`">What they did</label>
            <Select
              :model-value="rule.on"
              :options="KINDS"
              option-label="name"
              option-value="key"
              size="small"
              :disabled="disabled"
              :aria-labelledby="`on-${rule.key}`"
              @update:model-value="put(rule.key, { on: $event, when: null })"
            />
            <ConditionTree
              :model-value="rule.when ?? NOTHING"
              :attributes="ownAttributes(rule)"
              :disabled="disabled"
              quiet
              :called="`Which, for ${rule.name}`"
              @update:model-value="put(rule.key, { when: 'all' in $event && !$event.all.length ? null : $event })"
            />
          </template>
          <ConditionTree
            v-else
            :model-value="rule.when"
            :attributes="fitAttributes"
            :activity-attributes="activityAttributes"
            :disabled="disabled"
            quiet
            :called="`When ${rule.name} holds`"
            @update:model-value="put(rule.key, { when: $event })"
          />
          <label :for="`note-${rule.key}`">A note for colleagues</label>
          <InputText
            :id="`note-${rule.key}`"
            size="small"
            :model-value="rule.note ?? ''"
            maxlength="600"
            :disabled="disabled"
            @change="put(rule.key, { note: ($event.target as HTMLInputElement).value.trim() })"
          />
          <div v-if="!disabled" class="acts">
            <label class="tick"
              ><Checkbox
                :model-value="!rule.off"
                binary
                :input-id="`off-${rule.key}`"
                @update:model-value="put(rule.key, { off: !$event })"
              />
              It counts</label
            >
            <Button
              variant="text"
              size="small"
              severity="secondary"
              :disabled="!i"
              :aria-label="`Move ${rule.name} up`"
              @click="card = moveRule(card, axis, rule.key, -1)"
              >
<ArrowUp :size="14" aria-hidden="true"
            />
</Button>
            <Button
              variant="text"
              size="small"
              severity="secondary"
              :disabled="i === rules.length - 1"
              :aria-label="`Move ${rule.name} down`"
              @click="card = moveRule(card, axis, rule.key, 1)"
              >
<ArrowDown :size="14" aria-hidden="true"
            />
</Button>
            <Button
              label="Take it out"
              variant="text"
              size="small"
              severity="danger"
              :aria-label="`Take ${rule.name} out`"
              @click="card = removeRule(card, axis, rule.key)"
            />
          </div>
        </div>
      </li>
    </ol>
    <p v-if="!rules.length" class="faded">No rule yet.</p>
    <Button v-if="!disabled" variant="outlined" size="small" :label="axis === 'fit' ? 'Add a rule of fit' : 'Add a rule of interest'" @click="add"
      >
<template #icon><Plus :size="15" aria-hidden="true" /></template
    >
</Button>
  </div>
</template>

<style scoped>
.rules {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li {
  padding: 7px 0;
  border-bottom: 1px solid var(--rule);
}
.row {
  display: flex;
  gap: 8px;
  align-items: start;
}
.name {
  flex: 1;
  min-width: 0;
}
.what {
  display: flex;
  gap: 10px;
  margin: 2px 0 0;
}
.says {
  padding: 2px 0;
  border: 0;
  background: none;
  color: var(--faded);
  font: inherit;
  font-size: 13.5px;
  line-height: 20px;
  text-align: start;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.says:hover {
  color: var(--ink);
}
.off .says {
  text-decoration: line-through;
}
.honey {
  color: var(--honey);
}
.open {
  display: grid;
  gap: 6px;
  margin-top: 6px;
  padding: 8px 10px;
  border-left: 3px solid var(--rule);
  background: var(--sheet);
}
.open > label {
  font-size: 13px;
  color: var(--faded);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
.tick {
  display: flex;
  gap: 7px;
  align-items: center;
}
</style>
