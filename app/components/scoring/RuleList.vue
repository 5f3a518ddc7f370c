<script setup lang="ts">
import { GripVertical, Plus } from 'lucide-vue-next'
import { VueDraggable } from 'vue-draggable-plus'
import type { Condition } from '#core/conditions/condition'
import type { CardCheck } from '#core/scoring/checks'
import { DEED_KINDS, DEEDS } from '#core/scoring/deeds'
import { addRule, changeRule, moveRule, removeRule, type Axis, type RuleChange } from '#core/scoring/edit'
import type { FitRule, InterestRule, Scorecard } from '#core/scoring/scorecard'
import type { RuleUse } from '#core/team'
import type { Attribute } from '~/components/ConditionTree.vue'

/** The rules of one axis: name, what they ask, and their points, all changed where they stand. */
const card = defineModel<Scorecard>({ required: true })
const props = defineProps<{
  axis: Axis
  checks: CardCheck[]
  disabled: boolean
  /** What each rule does now, by its key; of those that are not live nothing. */
  uses: Record<string, RuleUse>
}>()
/** The rule that is pointed at, by mouse or keyboard; null: none any more. */
const emit = defineEmits<{ point: [rule: string | null] }>()
const inWords = useConditionWords()
const { leadAttributes, activityAttributes, quizAttributes } = useLeadAttributes()
const opened = ref<string | null>(null)
const rules = computed<(FitRule | InterestRule)[]>(() => card.value[props.axis])
/** The order, as it is dragged: one step of undo. */
const order = computed<(FitRule | InterestRule)[]>({
  get: () => rules.value,
  set: next => {
    if (next.map(r => r.key).join() !== rules.value.map(r => r.key).join()) card.value = { ...card.value, [props.axis]: next }
  },
})
const KINDS = DEED_KINDS.map(key => ({ key, name: DEEDS[key].name }))
const isInterest = (rule: FitRule | InterestRule): rule is InterestRule => 'on' in rule
const says = (rule: FitRule | InterestRule) =>
  isInterest(rule)
    ? `${DEEDS[rule.on].says}${rule.when ? `: ${inWords(rule.when)}` : ''}${rule.most ? `; ${oftenIn(rule.most)}` : ''}`
    : inWords(rule.when)
const oftenIn = ({ times, days }: { times: number; days: number }) =>
  `at most ${times === 1 ? 'once' : `${times} times`} in ${count(days, 'day', 'days')}`
/** The days of a period, as people say them; the last one counts. */
const lastDay = (until: string) => new Date(Date.parse(until) - 1)
const period = ({ from, until }: FitRule | InterestRule) =>
  [from && `from ${day(from)}`, until && `until ${day(lastDay(until).toISOString())}`].filter(Boolean).join(', ')
const startOf = (picked: Date | null) => (picked ? new Date(picked.getFullYear(), picked.getMonth(), picked.getDate()).toISOString() : null)
const endOf = (picked: Date | null) =>
  picked ? new Date(picked.getFullYear(), picked.getMonth(), picked.getDate() + 1).toISOString() : null
const groups = computed(() => [{ key: null as string | null, name: 'In no group' }, ...(card.value.groups ?? [])])
const groupOf = (rule: FitRule | InterestRule) => (isInterest(rule) ? undefined : card.value.groups?.find(g => g.key === rule.group))
const used = (rule: FitRule | InterestRule) => {
  const use = props.uses[rule.key]
  if (!use) return ''
  return `${use.leads.toLocaleString('en')} ${use.leads === 1 ? 'lead' : 'leads'} now, ${use.points > 0 ? '+' : ''}${use.points.toLocaleString('en')} this month`
}
/** What the rules of the score may ask: not for the score. */
const SCORE = new Set(['fit', 'interest', 'label'])
const fitAttributes = computed(() => leadAttributes.value.filter(a => !SCORE.has(a.name)))
const ownAttributes = (rule: InterestRule) => {
  const { like } = DEEDS[rule.on]
  if (rule.on === 'clicked') return SUBJECT
  if (!like) return []
  const all = activityAttributes(like)
  if (rule.on === 'entry') return [...all, ...quizAttributes.value]
  return rule.on === 'event' ? all.filter(a => !a.name.startsWith('page.')) : all
}
const SUBJECT: Attribute[] = [{ name: 'mail.subject', label: 'Subject of the mail', kind: 'short_text', choices: [] }]
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
    <VueDraggable v-model="order" tag="ol" class="rules" handle=".grip" :animation="120" :disabled="disabled">
      <li
        v-for="(rule, i) in rules"
        :key="rule.key"
        :class="{ off: rule.off }"
        @mouseenter="emit('point', rule.key)"
        @mouseleave="emit('point', null)"
        @focusin="emit('point', rule.key)"
        @focusout="emit('point', null)"
      >
        <div class="row">
          <span v-if="!disabled" class="grip" aria-hidden="true" title="Drag to another place"><GripVertical :size="15" /></span>
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
          <span v-if="period(rule)" class="faded small">{{ period(rule) }}</span>
          <span v-if="groupOf(rule)" class="faded small">in “{{ groupOf(rule)!.name }}”</span>
          <span v-if="used(rule)" class="faded small used">{{ used(rule) }}</span>
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
              v-if="ownAttributes(rule).length"
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
          <div v-if="isInterest(rule)" class="line">
            <label class="tick"><Checkbox
                :model-value="Boolean(rule.most)"
                binary
                :disabled="disabled"
                :input-id="`most-${rule.key}`"
                @update:model-value="put(rule.key, { most: $event ? { times: 1, days: 7 } : null })"
              />
              No more often than</label>
            <template v-if="rule.most">
              <ScoringPointsInput
                :model-value="rule.most.times"
                :least="1"
                :called="`How often ${rule.name} counts`"
                :disabled="disabled"
                @update:model-value="put(rule.key, { most: { ...rule.most!, times: $event } })"
              />
              <span>times in</span>
              <ScoringPointsInput
                :model-value="rule.most.days"
                :least="1"
                :most="365"
                :called="`In how many days, for ${rule.name}`"
                :disabled="disabled"
                @update:model-value="put(rule.key, { most: { ...rule.most!, days: $event } })"
              />
              <span>days</span>
            </template>
          </div>
          <template v-else-if="card.groups?.length">
            <label :id="`group-${rule.key}`">Group</label>
            <Select
              :model-value="rule.group ?? null"
              :options="groups"
              option-label="name"
              option-value="key"
              size="small"
              :disabled="disabled"
              :aria-labelledby="`group-${rule.key}`"
              @update:model-value="put(rule.key, { group: $event })"
            />
          </template>
          <div class="line">
            <label :for="`from-${rule.key}`">Counts from</label>
            <DatePicker
              :model-value="rule.from ? new Date(rule.from) : null"
              :input-id="`from-${rule.key}`"
              date-format="d M yy"
              size="small"
              show-button-bar
              :disabled="disabled"
              placeholder="always"
              @update:model-value="put(rule.key, { from: startOf($event as Date | null) })"
            />
            <label :for="`until-${rule.key}`">until</label>
            <DatePicker
              :model-value="rule.until ? lastDay(rule.until) : null"
              :input-id="`until-${rule.key}`"
              date-format="d M yy"
              size="small"
              show-button-bar
              :disabled="disabled"
              placeholder="further notice"
              @update:model-value="put(rule.key, { until: endOf($event as Date | null) })"
            />
          </div>
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
            <label class="tick"><Checkbox
                :model-value="!rule.off"
                binary
                :input-id="`off-${rule.key}`"
                @update:model-value="put(rule.key, { off: !$event })"
              />
              It counts</label>
            <MoveButtons
              :called="rule.name"
              :first="i === 0"
              :last="i === rules.length - 1"
              @move="card = moveRule(card, axis, rule.key, $event)"
            />
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
    </VueDraggable>
    <p v-if="!rules.length" class="faded">No rule yet.</p>
    <Button
      v-if="!disabled"
      variant="outlined"
      size="small"
      :label="axis === 'fit' ? 'Add a rule of fit' : 'Add a rule of interest'"
      @click="add"
    >
      <template #icon><Plus :size="15" aria-hidden="true" /></template>
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
.grip {
  display: flex;
  padding: 7px 0;
  color: var(--faded);
  cursor: grab;
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
.used {
  margin-left: auto;
  white-space: nowrap;
}
.what {
  flex-wrap: wrap;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
}
.line :deep(.p-datepicker-input) {
  width: 9.5rem;
}
.tick {
  display: flex;
  gap: 7px;
  align-items: center;
}
</style>
