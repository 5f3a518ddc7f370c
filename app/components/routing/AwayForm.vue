<script setup lang="ts">
import type { AbsenceView } from '#core/team'

/** When somebody is away, and who looks after what comes meanwhile. */
const props = defineProps<{ member: string; name: string; absences: AbsenceView[]; disabled: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const house = useHouse()
const say = useToasts()
const adding = ref(false)
const from = ref<Date | null>(null)
const until = ref<Date | null>(null)
const standIn = ref<string | null>(null)
const flaw = ref('')
const others = computed(() => [
  { id: null as string | null, name: 'Nobody' },
  ...house.words!.members.filter(m => m.id !== props.member && ['admin', 'manager', 'sales'].includes(m.role)),
])
async function add(): Promise<void> {
  flaw.value = ''
  if (!from.value || !until.value) {
    flaw.value = 'Choose the first and the last day.'
    return
  }
  try {
    await api('/api/team/absences', {
      method: 'POST',
      body: { member: props.member, from: isoDay(from.value), until: isoDay(until.value), standIn: standIn.value },
    })
    adding.value = false
    from.value = until.value = standIn.value = null
    say.done(`${props.name} is away then.`)
    emit('changed')
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function remove(a: AbsenceView): Promise<void> {
  try {
    await api(`/api/team/absences/${a.id}`, { method: 'DELETE' })
    emit('changed')
    say.done(`${props.name} is not away then.`, async () => {
      await api('/api/team/absences', {
        method: 'POST',
        body: { member: props.member, from: a.firstDay, until: a.lastDay, standIn: a.standIn },
      })
      emit('changed')
    })
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <div>
    <ul v-if="absences.length" class="list">
      <li v-for="a in absences" :key="a.id">
        <span>
          {{ calendarDay(a.firstDay) }}<template v-if="a.lastDay !== a.firstDay"> to {{ calendarDay(a.lastDay) }}</template>
          <template v-if="a.standIn">, {{ house.memberName(a.standIn) }} stands in</template>
        </span>
        <Button
          v-if="!disabled"
          label="Take away"
          size="small"
          variant="text"
          severity="secondary"
          :aria-label="`${name} is not away from ${calendarDay(a.firstDay)}`"
          @click="remove(a)"
        />
      </li>
    </ul>
    <form v-if="adding" class="new" @submit.prevent="add">
      <label :for="`away-from-${member}`">From</label>
      <DatePicker v-model="from" :input-id="`away-from-${member}`" date-format="d M yy" size="small" />
      <label :for="`away-until-${member}`">to, the last day</label>
      <DatePicker v-model="until" :input-id="`away-until-${member}`" date-format="d M yy" size="small" :min-date="from ?? undefined" />
      <label :id="`away-standin-${member}`">Stands in</label>
      <Select
        v-model="standIn"
        :options="others"
        option-label="name"
        option-value="id"
        size="small"
        :aria-labelledby="`away-standin-${member}`"
      />
      <Button type="submit" label="Keep it" size="small" />
      <Button label="Leave it" size="small" variant="text" severity="secondary" @click="adding = false" />
      <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
    </form>
    <Button v-else-if="!disabled" label="Away …" size="small" variant="outlined" :aria-label="`${name} is away …`" @click="adding = true" />
  </div>
</template>

<style scoped>
.list { list-style: none; margin: 0; padding: 0; }
.list li { display: flex; flex-wrap: wrap; gap: 2px 10px; align-items: center; }
.new { display: flex; flex-wrap: wrap; gap: 6px 8px; align-items: center; }
.new label { margin: 0; font-size: 14px; }
.new p { width: 100%; margin: 0; }
</style>
