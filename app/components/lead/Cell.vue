<script setup lang="ts">
import { may } from '#core/roles'
import type { ColumnKey } from '#core/follow-up/views'
import type { LeadView } from '#core/team'
import type { Status } from '#core/vocabulary'

/** One cell of the table of leads: what it says, and, for what can be changed there, its field. */
const props = defineProps<{ lead: LeadView; column: ColumnKey; disabled: boolean }>()
const emit = defineEmits<{ changed: []; /** The status asks for more. */ ask: [status: Status] }>()
const house = useHouse()
const { send, setStatus, setOwner } = useLeadActs(
  () => props.lead,
  async () => emit('changed'),
)
const editing = ref(false)
const box = ref<{ show?: () => void }>()
watch(editing, now => {
  if (now) void nextTick(() => box.value?.show?.())
})
const OWN: Record<string, 'firstName' | 'lastName' | 'company'> = { first_name: 'firstName', last_name: 'lastName', company: 'company' }
const key = computed(() => (props.column === 'company' ? 'company' : props.column.startsWith('p.') ? props.column.slice(2) : null))
const property = computed(() => house.words!.properties.find(p => p.key === key.value && !p.retired))
const value = computed(() =>
  key.value === null ? null : ((OWN[key.value] ? props.lead[OWN[key.value]!] : props.lead.properties[key.value]) ?? null),
)
const text = computed(() => (value.value === null || key.value === null ? '' : house.valueText(key.value, value.value)))
const owners = computed(() => [
  ...house.words!.members.filter(m => may(m.role, 'work leads')).map(m => ({ id: m.id as string | null, name: m.name })),
  { id: null, name: 'Nobody' },
])
const canEdit = computed(
  () => !props.disabled && (['status', 'owner'].includes(props.column) || (property.value !== undefined && property.value.kind !== 'file')),
)
function choose(status: string): void {
  editing.value = false
  const found = house.words!.statuses.find(s => s.key === status)
  if (!found || status === props.lead.status) return
  if (found.asks.length || found.reasons.length || found.stage === 'parked') emit('ask', found)
  else void setStatus(status)
}
function give(owner: string | null): void {
  editing.value = false
  void setOwner(owner)
}
const keep = async (to: string | string[] | null) => Boolean(await send(`properties/${key.value}`, 'PUT', { value: to, was: value.value }))
const says = computed(() =>
  props.column === 'status'
    ? house.statusName(props.lead.status)
    : props.column === 'owner'
      ? (props.lead.owner?.name ?? 'Nobody')
      : text.value,
)
</script>

<template>
  <template v-if="editing">
    <Select
      v-if="column === 'status'"
      ref="box"
      :model-value="lead.status"
      :options="house.words!.statuses"
      option-label="name"
      option-value="key"
      size="small"
      fluid
      autofocus
      :aria-label="`Status of ${lead.name}`"
      @update:model-value="choose"
      @hide="editing = false"
    />
    <Select
      v-else-if="column === 'owner'"
      ref="box"
      :model-value="lead.owner?.id ?? null"
      :options="owners"
      option-label="name"
      option-value="id"
      size="small"
      fluid
      autofocus
      :aria-label="`Owner of ${lead.name}`"
      @update:model-value="give"
      @hide="editing = false"
    />
    <LeadPropertyForm
      v-else-if="property"
      :property="property"
      :value="value"
      :called="`${property.label} of ${lead.name}`"
      :keep="keep"
      @left="editing = false"
    />
  </template>
  <button
    v-else-if="canEdit"
    type="button"
    class="value"
    :aria-label="`Change ${column === 'status' ? 'the status' : column === 'owner' ? 'the owner' : property?.label} of ${lead.name}: ${says || 'not known'}`"
    @click="editing = true"
  >
    {{ says || '–' }}
  </button>
  <LabelMark v-else-if="column === 'label'" :label="lead.label" />
  <template v-else-if="column === 'fit'">{{ lead.fit }}</template>
  <template v-else-if="column === 'interest'">{{ lead.interest }}</template>
  <WaitingMark v-else-if="column === 'waiting' && lead.urgency" :urgency="lead.urgency" short />
  <time v-else-if="column === 'updated'" :datetime="lead.updatedAt" class="small">{{ ago(lead.updatedAt) }}</time>
  <time v-else-if="column === 'created'" :datetime="lead.createdAt" class="small">{{ ago(lead.createdAt) }}</time>
  <a v-else-if="column === 'email' && lead.email" :href="`mailto:${lead.email}`">{{ lead.email }}</a>
  <template v-else-if="column === 'next_step' && lead.nextStep">
    {{ lead.nextStep.text }} <span class="faded small">{{ due(lead.nextStep.due) }}</span>
  </template>
  <template v-else-if="column === 'tags'">{{ lead.tags.map(tag => `#${tag}`).join(' ') }}</template>
  <template v-else-if="column === 'value' && lead.outcome?.value">{{ house.money(lead.outcome.value) }}</template>
  <template v-else>{{ says }}</template>
</template>

<style scoped>
.value { all: unset; cursor: pointer; overflow-wrap: anywhere; min-height: 24px; } .value:hover { text-decoration: underline dotted; } .value:focus-visible { outline: 2px solid var(--spruce); outline-offset: 2px; }
</style>
