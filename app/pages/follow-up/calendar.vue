<script setup lang="ts">
import { DateTime } from 'luxon'
import { STEP_WORDS } from '#core/follow-up/state'
import type { CalendarView } from '#core/team'

/** A week of what is to be done, one's own or the team's, with the way to a calendar elsewhere. */
useHead({ title: 'Calendar – Cavlin' })
const house = useHouse()
const session = useSession()
const say = useToasts()
const route = useRoute()
const router = useRouter()
const now = useNow(60_000)
const firstDay = computed(() => useWeekStart())
const owner = computed(() => String(route.query.owner ?? (session.me!.role === 'sales' ? session.me!.id : '')))
const start = computed(() => {
  const asked = DateTime.fromISO(String(route.query.week ?? ''))
  const day = (asked.isValid ? asked : DateTime.fromMillis(now.value)).startOf('day')
  return day.minus({ days: ((day.weekday % 7) - firstDay.value + 7) % 7 })
})
const days = computed(() => Array.from({ length: 7 }, (_, n) => start.value.plus({ days: n })))
const { data, problem, refresh } = useLiveQuery(
  () =>
    api<CalendarView>('/api/team/calendar', {
      query: {
        from: start.value.toUTC().toISO(),
        until: start.value.plus({ days: 7 }).toUTC().toISO(),
        ...(owner.value && owner.value !== 'all' && { owner: owner.value }),
      },
    }),
  { leads: true },
  1500,
)
watch([start, owner], () => void refresh())
const owners = computed(() => [
  { id: 'all', name: 'Everybody’s' },
  ...house
    .words!.members.filter(m => m.role !== 'marketer')
    .map(m => ({ id: m.id, name: m.id === session.me!.id ? `${m.name} (you)` : m.name })),
])
const change = (query: Record<string, string>) => router.replace({ query: { ...route.query, ...query } })
const go = (weeks: number) => change({ week: start.value.plus({ weeks }).toISODate()! })
const of = (day: DateTime) => (data.value?.items ?? []).filter(i => DateTime.fromISO(i.at).hasSame(day, 'day'))
const isFree = (day: DateTime) =>
  !house.words!.house.hours.week[day.weekday - 1]?.length ||
  house.words!.house.holidays.some(h => h.from <= day.toISODate()! && day.toISODate()! <= h.until)
const holiday = (day: DateTime) => house.words!.house.holidays.find(h => h.from <= day.toISODate()! && day.toISODate()! <= h.until)?.name
watch(data, d => {
  if (d) keepWay({ from: route.fullPath, called: 'Calendar', leads: [...new Set(d.items.map(i => i.lead))] })
})
useKeys({ j: () => go(1), k: () => go(-1) })
const address = ref('')
async function renew(): Promise<void> {
  try {
    address.value = (await api<{ address: string }>('/api/team/calendar/feed', { method: 'POST' })).address
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
async function close(): Promise<void> {
  try {
    await api('/api/team/calendar/feed', { method: 'DELETE' })
    address.value = ''
    await refresh()
    say.done('Your calendar is read from outside no more.')
  } catch (error) {
    say.failed(error)
  }
}
const copy = async () => {
  await navigator.clipboard.writeText(address.value)
  say.done('Copied.')
}
</script>

<template>
  <div>
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head">
      <h1>{{ start.toFormat('d LLLL') }} to {{ start.plus({ days: 6 }).toFormat('d LLLL yyyy') }}</h1>
      <span class="ways">
        <Button label="Before" variant="text" size="small" aria-label="The week before" @click="go(-1)" />
        <Button label="This week" variant="text" size="small" @click="change({ week: '' })" />
        <Button label="After" variant="text" size="small" aria-label="The week after" @click="go(1)" />
      </span>
      <Select
        :model-value="owner || 'all'"
        :options="owners"
        option-label="name"
        option-value="id"
        aria-label="Whose calendar"
        @update:model-value="change({ owner: $event })"
      />
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <ol class="week">
      <li v-for="d in days" :key="d.toISODate()!" :class="{ free: isFree(d), today: d.hasSame(DateTime.fromMillis(now), 'day') }">
        <h2>{{ d.toFormat('ccc d') }}<span v-if="holiday(d)" class="faded small"> {{ holiday(d) }}</span></h2>
        <p v-if="!of(d).length" class="faded small">Nothing.</p>
        <ul>
          <li v-for="(item, i) in of(d)" :key="i">
            <time :datetime="item.at" class="small" :class="{ late: Date.parse(item.at) < now && !item.until }">
              {{ DateTime.fromISO(item.at).toFormat('HH:mm') }}<template v-if="item.until"> to
                {{ DateTime.fromISO(item.until).toFormat('HH:mm') }}
              </template>
            </time>
            <NuxtLink :to="`/follow-up/leads/${item.lead}`"><b>{{ item.text }}</b></NuxtLink>
            <span class="faded small">
              {{ [item.kind === 'other' ? '' : STEP_WORDS[item.kind], item.text.includes(item.name) ? item.company : item.name, !owner || owner === 'all' ? house.memberName(item.owner) : ''].filter(Boolean).join(', ') }}
            </span>
          </li>
        </ul>
      </li>
    </ol>
    <section class="feed sheet" aria-labelledby="feed-title">
      <h2 id="feed-title">In your own calendar</h2>
      <template v-if="address">
        <p>Add this address to your calendar as a subscription. It is shown this once, and whoever has it reads your next steps and
          meetings.</p>
        <p class="address"><code>{{ address }}</code><Button label="Copy" size="small" variant="outlined" @click="copy" /></p>
      </template>
      <p v-else class="faded">
        {{ data?.hasFeed ? 'Your next steps and meetings are read under a secret address. A new one ends the one before.' : 'Your next steps and meetings can be read by any calendar program, under a secret address.' }}
      </p>
      <p class="acts">
        <Button :label="data?.hasFeed ? 'Make a new address' : 'Make an address'" size="small" variant="outlined" @click="renew" />
        <Button v-if="data?.hasFeed" label="End it" size="small" variant="text" severity="danger" @click="close" />
      </p>
    </section>
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; gap: 6px 14px; align-items: center; margin-bottom: 12px; }
.week { list-style: none; margin: 0; padding: 0; display: grid; grid-template-columns: repeat(7, minmax(0, 1fr)); border-top: 5px solid var(--spruce); }
.week > li { padding: 6px 10px 16px; border-left: 1px solid var(--rule); min-height: 46vh; }
.week > li:first-child { border-left: 0; }
.free { background: color-mix(in srgb, var(--rule) 30%, transparent); }
.today h2 { color: var(--spruce); }
h2 { font-size: 15px; line-height: 22px; }
ul { list-style: none; margin: 0; padding: 0; }
ul li { display: grid; padding: 6px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
ul a { color: inherit; text-decoration: none; } ul a:hover { text-decoration: underline; }
.late { color: var(--brick); }
.feed { padding: 14px 18px; margin-top: 16px; display: grid; gap: 8px; max-width: 760px; }
.address { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; } code { overflow-wrap: anywhere; }
.acts { display: flex; gap: 8px; }
@media (max-width: 900px) { .week { grid-template-columns: minmax(0, 1fr); } .week > li { min-height: 0; border-left: 0; border-top: 1px solid var(--rule); } }
</style>
