<script setup lang="ts">
import type { LeadView } from '#core/team'

/** Who else this lead is: looked for by name, then compared. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ id: string; name: string }>()
const other = ref<LeadView | string | null>(null)
const found = shallowRef<LeadView[]>([])
const chosen = computed(() => (other.value && typeof other.value === 'object' ? other.value : null))
watch(visible, now => {
  if (now) other.value = null
})
async function look({ query }: { query: string }): Promise<void> {
  try {
    const { leads } = await api<{ leads: LeadView[] }>('/api/team/leads', { query: { search: query, size: 8 } })
    found.value = leads.filter(l => l.id !== props.id)
  } catch {
    found.value = []
  }
}
function judged(was: 'joined' | 'two', lead: string): void {
  visible.value = false
  if (was === 'joined' && lead !== props.id) void navigateTo(`/follow-up/leads/${lead}`)
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="`Who else is ${name}?`" :style="{ width: 'min(860px, 96vw)' }" position="top">
    <label for="other-lead" class="faded small">Name, company or address of the other lead</label>
    <AutoComplete
      v-model="other"
      input-id="other-lead"
      :suggestions="found"
      :option-label="(l: LeadView) => l.name"
      :delay="150"
      fluid
      autofocus
      complete-on-focus
      empty-search-message="Nobody else matches."
      @complete="look"
    >
      <template #option="{ option }">
        <span class="option">
          <LeadPin :fit="option.fit" :interest="option.interest" quiet />
          <span>
            <b>{{ option.name }}</b> <span class="faded small">{{ [option.company, option.email].filter(Boolean).join(', ') }}</span>
          </span>
        </span>
      </template>
    </AutoComplete>
    <ReviewComparePair v-if="chosen" :a="id" :b="chosen.id" class="pair" @judged="judged" />
  </Dialog>
</template>

<style scoped>
.option { display: flex; gap: 10px; align-items: baseline; }
.pair { margin-top: 14px; }
</style>
