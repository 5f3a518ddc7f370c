<script setup lang="ts">
import { VISITOR_ATTRIBUTES } from '#core/appearing/attributes'
import { Plus, X } from 'lucide-vue-next'
import { isUninvited, MOMENTS, PLACEMENTS, type DisplayRules, type Moment, type Placement } from '#core/appearing/definition'
import type { Condition } from '#core/conditions/condition'
import type { PointDefinition } from '#core/points/definition'
import type { Attribute } from '~/components/ConditionTree.vue'

/** Where and when a point shows by itself: how it stands, on which pages, at which moment, to whom, and how long it then rests. */
const definition = defineModel<PointDefinition>({ required: true })
const props = defineProps<{ disabled: boolean; pointKey: string }>()
const house = useHouse()
const { data: site } = useSite()
const { leadAttributes, activityAttributes } = useLeadAttributes()

const a = computed(() => definition.value.display)
const set = (change: Partial<DisplayRules>) => {
  definition.value = { ...definition.value, display: { ...definition.value.display, ...change } }
}
const PLACEMENT_NAMES: Record<Placement, [string, string]> = {
  over: ['Over the page', 'A dialog that has to be answered or closed.'],
  edge: ['Edge bar', 'One line along the top or the bottom.'],
  corner: ['Corner card', 'A small card that leaves the page free.'],
  float: ['Floating button', 'A button in a corner that stays there until somebody presses it. Of several, the first in the order stands.'],
  text: ['In the text', 'Where the page keeps a place for it.'],
  button: ['Behind a button', 'An element of the page opens it.'],
}
/** A chat has its tab; what it may do beside is to greet. */
const CHAT_NAMES: Record<Placement, [string, string]> = {
  ...PLACEMENT_NAMES,
  corner: ['Tab and greeting', 'A tab at the edge of the page; at its moment it says something beside it.'],
  float: ['Tab alone', 'A tab at the edge of the page, which waits to be opened.'],
  button: ['Behind a button', 'An element of the page opens it; it has no tab.'],
}
const names = computed(() => (definition.value.chat ? CHAT_NAMES : PLACEMENT_NAMES))
const placements = computed(() => PLACEMENTS.filter(p => !definition.value.chat || ['corner', 'float', 'text', 'button'].includes(p)))
const MOMENT_NAMES: Record<Moment['kind'], [string, string]> = {
  seconds: ['After some time on the page', 'seconds'],
  scrolled: ['Scrolled down', '% of the page'],
  leaving: ['About to leave', ''],
  pages: ['Pages read in this visit', 'pages'],
  idle: ['Nothing done for a while', 'seconds'],
  click: ['A click on', 'as a CSS selector: #prices'],
  event: ['The site says', 'name of the event'],
}
const KINDS = MOMENTS.map(key => ({ key, name: MOMENT_NAMES[key][0] }))
const fresh = (kind: Moment['kind']): Moment =>
  kind === 'leaving'
    ? { kind }
    : kind === 'click' || kind === 'event'
      ? { kind, what: kind === 'click' ? '#' : 'event' }
      : { kind, n: { seconds: 10, scrolled: 50, pages: 2, idle: 30 }[kind] }
const change = (i: number, moment: Moment) => set({ moments: a.value.moments.map((m, n) => (n === i ? moment : m)) })
const number = (text: string | undefined, most: number) => Math.min(most, Math.max(0, Math.round(Number(text) || 0)))

const parameters = computed(() => [...new Set(['utm_source', 'utm_campaign', ...(site.value?.parameters ?? [])])])
/** What display rules may ask about pages and visitors; a family once for each parameter that there is. */
const ofRegistry = (about: 'page' | 'visitor'): Attribute[] =>
  VISITOR_ATTRIBUTES.filter(a => a.about === about).flatMap((a): Attribute[] => {
    const kind = a.choices ? ('one_of' as const) : ('short_text' as const)
    const owns = a.isFamily
      ? parameters.value.map(p => ({ name: a.name + p, label: `${a.label} ${p}` }))
      : [{ name: a.name, label: a.label }]
    return owns.map(own => ({ ...own, kind, choices: a.choices ?? [] }))
  })
const pageAttributes = computed(() => ofRegistry('page'))
const audienceAttributes = computed(() => [...ofRegistry('visitor'), ...leadAttributes.value])
const CONDITIONS = computed(() => [
  {
    key: 'pages' as const,
    name: 'On which pages',
    all: 'On all pages',
    attributes: pageAttributes.value,
    first: { all: [{ attribute: 'page.path', is: 'starts_with', value: '/' }] } as Condition,
  },
  {
    key: 'except' as const,
    name: 'But not on',
    all: 'No exceptions',
    attributes: pageAttributes.value,
    first: { any: [{ attribute: 'page.path', is: 'equal', value: '/contact' }] } as Condition,
  },
  {
    key: 'audience' as const,
    name: 'To whom',
    all: 'To everybody',
    attributes: audienceAttributes.value,
    first: { all: [{ attribute: 'visitor.returning', is: 'equal', value: 'yes' }] } as Condition,
  },
])
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const period = (change: Partial<DisplayRules['period']>) => set({ period: { ...a.value.period, ...change } })
const toggleDay = (n: number) =>
  period({ days: a.value.period.days.includes(n) ? a.value.period.days.filter(d => d !== n) : [...a.value.period.days, n].sort() })
const rest = (change: Partial<DisplayRules['rest']>) => set({ rest: { ...a.value.rest, ...change } })
const attribute = computed(() => `data-cavlin-${a.value.placement === 'text' ? 'place' : 'open'}="${props.pointKey}"`)
</script>

<template>
  <fieldset class="appear" :disabled="disabled">
    <legend><h2>On the site</h2></legend>
    <label class="tick">
      <Checkbox :model-value="a.on" binary :disabled="disabled" input-id="appears-on" @update:model-value="set({ on: $event })" /> Shows by
      itself on pages that carry the site’s tag</label>
    <template v-if="a.on">
      <div class="placements" role="radiogroup" aria-label="How it stands">
        <label v-for="p in placements" :key="p" class="placement" :class="{ on: a.placement === p }">
          <input type="radio" name="placement" :value="p" :checked="a.placement === p" @change="set({ placement: p })">
          <span class="mini" :class="[p, a.side]" aria-hidden="true"><i /></span><span>{{ names[p][0] }}</span>
        </label>
      </div>
      <p class="faded small">{{ names[a.placement][1] }}</p>
      <p v-if="a.placement === 'text' || a.placement === 'button'" class="small">Put this attribute on
        {{ a.placement === 'text' ? 'an empty element where it is to stand' : 'the button or link that opens it' }}:
        <code>{{ attribute }}</code>
      </p>

      <section v-for="c in CONDITIONS" :key="c.key" :aria-label="c.name">
        <h3>{{ c.name }}</h3>
        <ConditionTree
          v-if="a[c.key]"
          :model-value="a[c.key]!"
          :attributes="c.attributes"
          :activity-attributes="c.key === 'audience' ? activityAttributes : undefined"
          :disabled="disabled"
          :called="c.name"
          @update:model-value="set({ [c.key]: $event })"
        />
        <p v-else class="faded small">{{ c.all }}</p>
        <Button
          v-if="!disabled"
          variant="text"
          size="small"
          :label="a[c.key] ? c.all : c.key === 'pages' ? 'Only on some' : c.key === 'except' ? 'Leave some out' : 'Only to some'"
          @click="set({ [c.key]: a[c.key] ? null : c.first })"
        />
      </section>

      <section v-if="isUninvited(a.placement)" aria-label="At which moment">
        <h3>At which moment</h3>
        <p v-if="!a.moments.length" class="faded small">At once, as soon as the page is there</p>
        <label v-if="a.moments.length > 1" class="unseen" for="together">How the moments go together</label>
        <Select
          v-if="a.moments.length > 1"
          input-id="together"
          :model-value="a.together"
          :options="[{ key: 'any', name: 'as soon as one of these comes' }, { key: 'all', name: 'when all of these have come' }]"
          option-label="name"
          option-value="key"
          size="small"
          :disabled="disabled"
          aria-label="How the moments go together"
          @update:model-value="set({ together: $event })"
        />
        <div v-for="(m, i) in a.moments" :key="i" class="moment">
          <Select
            :model-value="m.kind"
            :options="KINDS"
            option-label="name"
            option-value="key"
            size="small"
            :disabled="disabled"
            :aria-label="`Moment ${i + 1}`"
            @update:model-value="change(i, fresh($event))"
          />
          <template v-if="'n' in m">
            <InputText
              :model-value="String(m.n)"
              inputmode="numeric"
              size="small"
              class="n"
              maxlength="5"
              :aria-label="`${MOMENT_NAMES[m.kind][0]}, ${MOMENT_NAMES[m.kind][1]}`"
              @update:model-value="change(i, { ...m, n: number($event, m.kind === 'scrolled' ? 100 : 86400) })"
            />
            <span class="faded small">{{ MOMENT_NAMES[m.kind][1] }}</span>
          </template>
          <InputText
            v-else-if="'what' in m"
            :model-value="m.what"
            size="small"
            maxlength="200"
            :placeholder="MOMENT_NAMES[m.kind][1]"
            :aria-label="`${MOMENT_NAMES[m.kind][0]}, ${MOMENT_NAMES[m.kind][1]}`"
            @update:model-value="change(i, { ...m, what: $event ?? '' })"
          />
          <Button
            v-if="!disabled"
            variant="text"
            size="small"
            severity="secondary"
            :aria-label="`Take moment ${i + 1} out`"
            @click="set({ moments: a.moments.filter((_, n) => n !== i) })"
          >
            <X :size="15" aria-hidden="true" />
          </Button>
        </div>
        <Button
          v-if="!disabled && a.moments.length < 8"
          variant="text"
          size="small"
          label="One more moment"
          @click="set({ moments: [...a.moments, fresh('seconds')] })"
        >
          <template #icon><Plus :size="14" aria-hidden="true" /></template>
        </Button>
      </section>

      <section aria-label="In which time">
        <h3>In which time</h3>
        <div class="two">
          <div>
            <label for="show-from">From the day</label>
            <DayField
              input-id="show-from"
              :model-value="a.period.from"
              placeholder="no bound"
              @update:model-value="period({ from: $event })"
            />
          </div>
          <div>
            <label for="show-until">To the day, included</label>
            <DayField
              input-id="show-until"
              :model-value="a.period.until"
              placeholder="no bound"
              @update:model-value="period({ until: $event })"
            />
          </div>
        </div>
        <div class="days" role="group" aria-label="Days of the week; none chosen means all">
          <Button
            v-for="(day, n) in DAYS"
            :key="day"
            :label="day"
            size="small"
            :variant="a.period.days.includes(n + 1) ? 'outlined' : 'text'"
            :aria-pressed="a.period.days.includes(n + 1)"
            :disabled="disabled"
            @click="toggleDay(n + 1)"
          />
        </div>
        <label class="tick">
          <Checkbox
            :model-value="Boolean(a.period.hours)"
            binary
            :disabled="disabled"
            input-id="some-hours"
            @update:model-value="period({ hours: $event ? [8, 18] : null })"
          />
          Only at some hours</label>
        <div v-if="a.period.hours" class="moment">
          <label for="hour-from" class="unseen">From the hour</label>
          <InputText
            id="hour-from"
            :model-value="String(a.period.hours[0])"
            class="n"
            size="small"
            inputmode="numeric"
            maxlength="2"
            @update:model-value="period({ hours: [number($event, 24), a.period.hours![1]] })"
          />
          <span>until</span>
          <label for="hour-until" class="unseen">Until the hour</label>
          <InputText
            id="hour-until"
            :model-value="String(a.period.hours[1])"
            class="n"
            size="small"
            inputmode="numeric"
            maxlength="2"
            @update:model-value="period({ hours: [a.period.hours![0], number($event, 24)] })"
          />
          <span class="faded small">o’clock, in {{ house.words!.house.zone.replace(/^.*\//, '') }}</span>
        </div>
      </section>

      <section v-if="isUninvited(a.placement)" aria-label="How long it rests">
        <h3>How long it rests</h3>
        <div class="moment">
          <label for="rest-closed">Closed: stays away for</label>
          <InputText
            id="rest-closed"
            :model-value="String(a.rest.closed)"
            class="n"
            size="small"
            inputmode="numeric"
            maxlength="4"
            @update:model-value="rest({ closed: number($event, 3650) })"
          />
          <span class="faded small">days</span>
        </div>
        <div class="moment">
          <label for="rest-answered">Answered: stays away for</label>
          <InputText
            id="rest-answered"
            :model-value="a.rest.answered === null ? '' : String(a.rest.answered)"
            class="n"
            size="small"
            inputmode="numeric"
            maxlength="4"
            placeholder="good"
            @update:model-value="rest({ answered: $event ? number($event, 3650) : null })"
          />
          <span class="faded small">{{ a.rest.answered === null ? '(empty: for good)' : 'days' }}</span>
        </div>
        <div class="moment">
          <label for="rest-visit">In one visit at most</label>
          <InputText
            id="rest-visit"
            :model-value="String(a.rest.perVisit)"
            class="n"
            size="small"
            inputmode="numeric"
            maxlength="2"
            @update:model-value="rest({ perVisit: Math.max(1, number($event, 50)) })"
          />
          <span class="faded small">times</span>
        </div>
        <label class="tick">
          <Checkbox :model-value="a.small" binary :disabled="disabled" input-id="on-small" @update:model-value="set({ small: $event })" />
          Also on small screens, where it covers what people read</label>
      </section>
    </template>
  </fieldset>
</template>

<style scoped>
.appear { margin: 0; padding: 0; border: 0; display: grid; gap: 8px; min-width: 0; }
legend { padding: 0; }
section { display: grid; gap: 4px; justify-items: start; padding-top: 8px; border-top: 1px solid var(--rule); min-width: 0; }
section > * { max-width: 100%; }
h3 { font-size: 14px; line-height: 20px; }
label:not(.tick, .placement) { font-size: 13px; line-height: 18px; color: var(--faded); display: block; margin: 4px 0 3px; }
.moment label:not(.tick) { display: inline; margin: 0; }
.tick { display: flex; gap: 8px; align-items: center; }
.placements { display: grid; grid-template-columns: repeat(auto-fit, minmax(66px, 1fr)); gap: 4px; }
.placement { display: grid; gap: 4px; justify-items: center; padding: 8px 4px; border: 1px solid var(--rule); font-size: 12px; line-height: 15px; text-align: center; cursor: pointer; position: relative; }
.placement.on { border-color: var(--spruce); background: var(--wash); }
.placement input { position: absolute; opacity: 0; inset: 0; width: 100%; height: 100%; margin: 0; cursor: pointer; }
.placement:has(:focus-visible) { outline: 3px solid var(--spruce); outline-offset: 2px; }
.mini { position: relative; width: 52px; height: 34px; border: 1px solid var(--faded); background: repeating-linear-gradient(var(--sheet) 0 5px, var(--rule) 5px 6px); }
.mini i { position: absolute; background: var(--spruce); }
.mini.over i { inset: 8px 12px; } .mini.edge i { inset: auto 0 0; height: 7px; } .mini.edge.start i { inset: 0 0 auto; } .mini.corner i { right: 3px; bottom: 3px; width: 18px; height: 14px; } .mini.corner.start i { left: 3px; right: auto; }
.mini.float i { right: 3px; bottom: 3px; width: 22px; height: 8px; border-radius: 4px; } .mini.float.start i { left: 3px; right: auto; }
.mini.text i { inset: 14px 6px 4px; } .mini.button i { left: 16px; bottom: 5px; width: 20px; height: 7px; border-radius: 4px; }
.two { display: grid; grid-template-columns: repeat(auto-fit, minmax(150px, 1fr)); gap: 0 12px; width: 100%; }
.moment { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; }
.n { width: 72px; }
.days { display: flex; flex-wrap: wrap; gap: 2px; }
code { overflow-wrap: anywhere; background: var(--sheet); padding: 1px 4px; border: 1px solid var(--rule); }
</style>
