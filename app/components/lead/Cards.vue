<script setup lang="ts">
import { COLUMN_WORDS, SORTS_OF_COLUMNS, type COLUMNS } from '#core/follow-up/views'
import type { LeadView } from '#core/team'

/** The leads on a narrow screen: of each what matters, one below the other. */
const ticked = defineModel<LeadView[]>({ required: true })
const props = defineProps<{
  leads: LeadView[]
  /** null: they are being counted. */
  total: number | null
  /** How many can be paged through. */
  reach: number
  from: number
  size: number
  sort: string
  up: boolean
  filtered: boolean
}>()
const emit = defineEmits<{ sort: [by: string, up: boolean]; page: [from: number] }>()
const house = useHouse()
const session = useSession()
const sorts = SORTS_OF_COLUMNS.map(key => ({ key, name: key === 'name' ? 'Name' : COLUMN_WORDS[key as (typeof COLUMNS)[number]] }))
const last = computed(() => Math.min(props.from + props.size, props.total ?? Infinity))
</script>

<template>
  <div class="cards">
    <p class="order">
      <label for="cards-sort" class="faded small">In order of</label>
      <Select
        input-id="cards-sort"
        :model-value="sort"
        :options="sorts"
        option-label="name"
        option-value="key"
        size="small"
        @update:model-value="emit('sort', $event, up)"
      />
      <Button :label="up ? 'Upwards' : 'Downwards'" size="small" variant="text" @click="emit('sort', sort, !up)" />
    </p>
    <p v-if="!leads.length" class="empty faded">
      {{ filtered ? 'Nobody fits these filters. Take one away, or show all.' : 'Nobody yet. Whoever fills in a form that is live stands here a moment later.' }}
    </p>
    <ul>
      <li v-for="lead in leads" :key="lead.id">
        <Checkbox
          v-if="session.may('work leads')"
          v-model="ticked"
          :value="lead"
          :input-id="`card-${lead.id}`"
          :aria-label="`Choose ${lead.name}`"
        />
        <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
        <div>
          <p>
            <NuxtLink :to="`/follow-up/leads/${lead.id}`"><b>{{ lead.name }}</b></NuxtLink> <span class="faded">{{ lead.company }}</span>
          </p>
          <p class="small">
            <LabelMark :label="lead.label" /> <span>
              {{ house.statusName(lead.status) }}
            </span> <span class="faded">
              {{ lead.owner?.name ?? 'Nobody' }}, {{ ago(lead.updatedAt) }}
            </span>
          </p>
          <WaitingMark v-if="lead.urgency" :urgency="lead.urgency" :by="lead.answerBy" />
        </div>
      </li>
    </ul>
    <p v-if="reach > size" class="pages">
      <Button label="Earlier" size="small" variant="text" :disabled="from === 0" @click="emit('page', Math.max(0, from - size))" />
      <span class="faded figures">{{ from + 1 }} to {{ last }}{{ total === null ? '' : ` of ${total.toLocaleString('en')}` }}</span>
      <Button label="Further" size="small" variant="text" :disabled="last >= reach" @click="emit('page', from + size)" />
    </p>
  </div>
</template>

<style scoped>
.order, .pages { display: flex; gap: 10px; align-items: center; }
ul { list-style: none; margin: 8px 0 0; padding: 0; }
li { display: flex; gap: 10px; align-items: flex-start; padding: 10px 0; border-top: 1px solid var(--rule); } li > div { min-width: 0; overflow-wrap: anywhere; } li > :first-child { margin-top: 2px; }
.small { display: flex; flex-wrap: wrap; gap: 0 12px; } a { color: inherit; text-decoration: none; display: inline-block; min-height: 24px; }
.empty { padding: 24px; text-align: center; }
</style>
