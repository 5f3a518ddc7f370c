<script setup lang="ts">
import { LANGUAGES } from '#core/languages/language'
import { dayInWords } from '#core/working-week'
import type { DaySpan } from '#core/working-time'
import type { RoutedView } from '#core/team'
import type { ComponentPublicInstance } from 'vue'

/** Somebody's hours, limit, languages and days away. */
const props = defineProps<{ person: RoutedView; mayEdit: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const house = useHouse()
const session = useSession()
const say = useToasts()
const name = computed(() => house.memberName(props.person.id))
const firm = computed(() => house.words!.house.hours)
const isOwn = computed(() => JSON.stringify(props.person.hours.week) !== JSON.stringify(firm.value.week))
const hasZone = computed(() => props.person.hours.zone !== house.words!.house.zone)
const editing = ref(false)
const draft = reactive({ own: false, week: [] as DaySpan[][], zone: '', mostOpen: null as number | null, languages: [] as string[] })
const editor = ref<ComponentPublicInstance & { isRight: boolean }>()
const flaw = ref('')
const LANGUAGE_OPTIONS = Object.entries(LANGUAGES).map(([key, text]) => ({ key, text }))
const zones = Intl.supportedValuesOf('timeZone')
function edit(): void {
  const { hours, mostOpen, languages } = props.person
  Object.assign(draft, {
    own: isOwn.value,
    week: JSON.parse(JSON.stringify(hours.week)),
    zone: hours.zone,
    mostOpen,
    languages: [...languages],
  })
  flaw.value = ''
  editing.value = true
}
async function keep(): Promise<void> {
  if (draft.own && editor.value && !editor.value.isRight) {
    flaw.value = 'Mend the day that is marked first.'
    return
  }
  const body = {
    week: draft.own ? draft.week : null,
    zone: draft.zone === house.words!.house.zone ? null : draft.zone,
    mostOpen: draft.mostOpen,
    languages: draft.languages,
  }
  try {
    await api(`/api/team/members/${props.person.id}/hours`, { method: 'PUT', body })
    editing.value = false
    emit('changed')
    say.done(`Kept for ${name.value}.`)
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
/** Days that are alike are said together: `Mon–Fri 8–18`. */
const weekText = computed(() => {
  const short = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
  const days = props.person.hours.week.map(dayInWords)
  const runs: { from: number; until: number; text: string }[] = []
  days.forEach((text, i) => {
    const last = runs.at(-1)
    if (last && last.text === text) last.until = i
    else runs.push({ from: i, until: i, text })
  })
  return (
    runs
      .filter(r => r.text)
      .map(r => `${short[r.from]}${r.until > r.from ? `–${short[r.until]}` : ''} ${r.text}`)
      .join('; ') || 'never'
  )
})
</script>

<template>
  <li class="sheet person">
    <div class="top">
      <h3>{{ name }}</h3>
      <Button
        v-if="mayEdit && !editing"
        label="Change"
        size="small"
        variant="text"
        :aria-label="`Change the hours of ${name}`"
        @click="edit"
      />
    </div>
    <p v-if="!editing">
        {{ weekText }}<span v-if="!isOwn" class="faded small">, as the firm</span>
        <span v-if="hasZone" class="faded small">, {{ person.hours.zone.replaceAll('_', ' ') }}</span>.
        <template v-if="person.mostOpen !== null">At most {{ count(person.mostOpen, 'open lead', 'open leads') }}.</template>
        <template v-if="person.languages.length"> Speaks
          {{ person.languages.map(l => LANGUAGES[l as keyof typeof LANGUAGES] ?? l).join(', ') }}.</template>
    </p>
    <form v-else class="edit" @submit.prevent="keep">
      <label class="tick"><Checkbox v-model="draft.own" binary :input-id="`own-${person.id}`" /> Hours of their own</label>
      <RoutingWeekEditor v-if="draft.own" ref="editor" v-model="draft.week" :called="`Hours of ${name}`" />
      <span class="line">
        <label :id="`zone-${person.id}`">Time zone</label>
        <Select v-model="draft.zone" :options="zones" filter size="small" :aria-labelledby="`zone-${person.id}`" />
      </span>
      <span class="line">
        <label class="tick">
          <Checkbox
            :model-value="draft.mostOpen !== null"
            binary
            :input-id="`most-${person.id}`"
            @update:model-value="draft.mostOpen = $event ? 40 : null"
          />
          Gets no more with</label>
        <template v-if="draft.mostOpen !== null">
          <ScoringPointsInput
            :model-value="draft.mostOpen"
            :least="0"
            :most="100000"
            :called="`Most open leads of ${name}`"
            @update:model-value="draft.mostOpen = $event"
          />
          open leads</template>
      </span>
      <span class="line">
        <label :id="`languages-${person.id}`">Speaks</label>
        <MultiSelect
          v-model="draft.languages"
          :options="LANGUAGE_OPTIONS"
          option-label="text"
          option-value="key"
          size="small"
          placeholder="not said"
          :aria-labelledby="`languages-${person.id}`"
        />
      </span>
      <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
      <span class="line">
        <Button type="submit" label="Keep it" size="small" />
        <Button label="Leave it" size="small" variant="text" severity="secondary" @click="editing = false" />
      </span>
    </form>
    <RoutingAwayForm
      :member="person.id"
      :name="name"
      :absences="person.absences"
      :disabled="!mayEdit && person.id !== session.me!.id"
      @changed="emit('changed')"
    />
  </li>
</template>

<style scoped>
.person { padding: 12px 16px; margin-bottom: -1px; }
.person h3 { margin: 0; }
.top { display: flex; gap: 10px; align-items: center; justify-content: space-between; min-height: 32px; }
.person p { margin: 2px 0 6px; }
.edit { display: grid; gap: 8px; margin: 8px 0; justify-items: start; }
.line { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; }
.line label { margin: 0; }
.tick { display: flex; gap: 8px; align-items: center; margin: 0; }
</style>
