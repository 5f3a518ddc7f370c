<script setup lang="ts">
import type { DaySpan } from '#core/working-time'
import type { RouteView } from '#core/team'

/** When the firm and each of its people work, how much they take on, and who is away. */
useHead({ title: 'People and hours – Cavlin' })
const house = useHouse()
const session = useSession()
const say = useToasts()
const mayEdit = computed(() => session.may('edit plan'))
const { data, problem, refresh } = useLiveQuery(() => api<RouteView>('/api/team/route'), { colleagues: true, site: true }, 800)
/** Oneself first: most come here to say that they are away. */
const people = computed(() =>
  [...(data.value?.people ?? [])].sort(
    (a, b) =>
      Number(b.id === session.me!.id) - Number(a.id === session.me!.id) || house.memberName(a.id).localeCompare(house.memberName(b.id)),
  ),
)
const week = computed<DaySpan[][]>({
  get: () => house.words!.house.hours.week,
  set: next => void keep(next, house.words!.house.hours.week),
})
async function keep(next: DaySpan[][], before?: DaySpan[][]): Promise<void> {
  try {
    await api('/api/team/hours', { method: 'PUT', body: { week: next } })
    await house.load()
    say.done('The firm’s hours are kept.', before && (() => keep(before)))
  } catch (error) {
    say.failed(error)
  }
}
const holiday = reactive({ from: null as Date | null, until: null as Date | null, name: '' })
const flaw = ref('')
async function addDay(body: { from: string; until: string; name: string }): Promise<void> {
  await api('/api/team/holidays', { method: 'POST', body })
  await house.load()
}
async function add(): Promise<void> {
  flaw.value = ''
  if (!holiday.from) {
    flaw.value = 'Choose a day.'
    return
  }
  try {
    await addDay({ from: isoDay(holiday.from), until: isoDay(holiday.until ?? holiday.from), name: holiday.name })
    Object.assign(holiday, { from: null, until: null, name: '' })
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
interface FoundDay {
  from: string
  until: string
  name: string
  isNew: boolean
}
/** What a calendar file would add. */
const found = ref<{ days: FoundDay[]; passed: number; text: string } | null>(null)
const showFound = ref(false)
const bringing = ref(false)
const file = ref<HTMLInputElement>()
const fresh = computed(() => found.value?.days.filter(d => d.isNew).length ?? 0)
const fromFile = (text: string, look: boolean) =>
  $fetch<{ days: FoundDay[]; passed: number }>(`/api/team/holidays/calendar${look ? '?look=true' : ''}`, {
    method: 'POST',
    body: text,
    headers: { 'content-type': 'text/calendar' },
  })
async function look(list: FileList | null): Promise<void> {
  flaw.value = ''
  const chosen = list?.[0]
  if (!chosen) return
  try {
    const text = await chosen.text()
    found.value = { ...(await fromFile(text, true)), text }
    showFound.value = true
  } catch (error) {
    flaw.value = (error as { data?: { detail?: string } }).data?.detail ?? 'The file could not be read. Choose it again.'
  } finally {
    if (file.value) file.value.value = ''
  }
}
async function bringIn(): Promise<void> {
  bringing.value = true
  try {
    const many = fresh.value
    await fromFile(found.value!.text, false)
    await house.load()
    showFound.value = false
    say.done(`${count(many, 'holiday is', 'holidays are')} added.`)
  } catch (error) {
    say.failed(error)
  } finally {
    bringing.value = false
  }
}
async function remove(h: { id: string; from: string; until: string; name: string }): Promise<void> {
  try {
    await api(`/api/team/holidays/${h.id}`, { method: 'DELETE' })
    await house.load()
    say.done(`${h.name} is a working day again.`, () => addDay({ from: h.from, until: h.until, name: h.name }))
  } catch (error) {
    say.failed(error)
  }
}
const today = isoDay(new Date())
const coming = computed(() => house.words!.house.holidays.filter(h => h.until >= today))
</script>

<template>
  <div class="page">
    <StageViews :views="ROUTE_VIEWS" called="Route" />
    <h1>People and hours</h1>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <div class="two">
      <section aria-labelledby="people">
        <h2 id="people">Colleagues who work with leads</h2>
        <p class="faded">Lanes count these hours, and so do promises: the clock runs while the owner works.</p>
        <ul class="people"><RoutingPersonHours v-for="p in people" :key="p.id" :person="p" :may-edit="mayEdit" @changed="refresh" /></ul>
      </section>
      <div>
        <section class="sheet firm" aria-labelledby="firm">
          <h2 id="firm">The firm</h2>
          <p class="faded">{{ house.words!.house.zone.replaceAll('_', ' ') }}. Whoever has no hours of their own works like this.</p>
          <RoutingWeekEditor v-model="week" called="Hours of the firm" :disabled="!mayEdit" />
        </section>
        <section class="sheet firm" aria-labelledby="holidays">
          <h2 id="holidays">Holidays</h2>
          <ul v-if="coming.length" class="days">
            <li v-for="h in coming" :key="h.id">
              <span>{{ h.name }}</span>
              <span class="faded">
                {{ calendarDay(h.from) }}<template v-if="h.until !== h.from"> to {{ calendarDay(h.until) }}</template>
              </span>
              <Button
                v-if="mayEdit"
                label="Take away"
                size="small"
                variant="text"
                severity="secondary"
                :aria-label="`Take ${h.name} away`"
                @click="remove(h)"
              />
            </li>
          </ul>
          <p v-else class="faded small">None is ahead.</p>
          <form v-if="mayEdit" class="new" @submit.prevent="add">
            <InputText v-model="holiday.name" size="small" maxlength="80" placeholder="What is it?" aria-label="Name of the holiday" />
            <DatePicker
              v-model="holiday.from"
              input-id="holiday-from"
              date-format="d M yy"
              size="small"
              placeholder="Day"
              aria-label="First day of the holiday"
            />
            <DatePicker
              v-model="holiday.until"
              input-id="holiday-until"
              date-format="d M yy"
              size="small"
              placeholder="to, if longer"
              :min-date="holiday.from ?? undefined"
              aria-label="Last day of the holiday"
            />
            <Button type="submit" label="Add it" size="small" variant="outlined" :disabled="!holiday.name.trim()" />
            <Button type="button" label="From a calendar file …" size="small" variant="text" @click="file?.click()" />
            <input
              ref="file"
              type="file"
              class="unseen"
              tabindex="-1"
              aria-hidden="true"
              accept=".ics,text/calendar"
              @change="look(($event.target as HTMLInputElement).files)"
            >
            <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
          </form>
          <Dialog v-model:visible="showFound" modal header="Holidays in this file" :style="{ width: 'min(32rem, 94vw)' }">
            <ul v-if="found" class="days found">
              <li v-for="d in found.days" :key="`${d.from} ${d.until}`">
                <span>{{ d.name }}</span>
                <span class="faded">
                  {{ calendarDay(d.from) }}<template v-if="d.until !== d.from"> to {{ calendarDay(d.until) }}</template>
                </span>
                <span class="faded small">{{ d.isNew ? '' : 'there already' }}</span>
              </li>
            </ul>
            <p v-if="found?.passed" class="faded small">
              {{ count(found.passed, 'event is', 'events are') }} passed over: only whole days from now on count.</p>
            <p>
              <Button
                :label="fresh ? `Add ${count(fresh, 'holiday', 'holidays')}` : 'All are there already'"
                :disabled="!fresh"
                :loading="bringing"
                @click="bringIn"
              />
            </p>
          </Dialog>
        </section>
      </div>
    </div>
  </div>
</template>

<style scoped>
h1 { margin-bottom: 12px; }
.people { list-style: none; margin: 10px 0 0; padding: 0; }
.firm { padding: 14px 18px; margin-bottom: 16px; }
.days { list-style: none; margin: 0 0 10px; padding: 0; }
.days li { display: flex; flex-wrap: wrap; gap: 2px 12px; align-items: center; padding: 3px 0; border-bottom: 1px solid var(--rule); }
.days li span:first-child { flex: 1; }
.new { display: flex; flex-wrap: wrap; gap: 6px 8px; align-items: center; }
.new p { width: 100%; margin: 0; }
.new :deep(.p-datepicker) { width: 9rem; }
.found { max-height: 50vh; overflow: auto; }
</style>
