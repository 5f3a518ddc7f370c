<script setup lang="ts">
import type { LeadView } from '#core/team'

const visible = defineModel<boolean>('visible', { required: true })
/** What was typed before the field was there. */
const props = defineProps<{ ahead: string }>()
const emit = defineEmits<{ ready: [] }>()
const text = ref('')
const found = ref<LeadView[]>([])
const total = ref(0)
const more = ref(false)
const at = ref(0)
const state = ref<'idle' | 'looking' | 'done' | 'failed'>('idle')
const MOST = 8
/** Of so few found it is said what else may be meant. */
const FEW = 3
interface Alike {
  like: { id: string; name: string; company: string | null; email: string | null }[]
  said: number
  more: boolean
}
const alike = ref<Alike | null>(null)
const others = computed(() => alike.value?.like.filter(l => !found.value.some(f => f.id === l.id)) ?? [])
let timer: ReturnType<typeof setTimeout> | undefined
let asked = 0

/** The field is there, and reads by itself from now on. */
function ready(): void {
  if (props.ahead) text.value = props.ahead + text.value
  emit('ready')
}
watch(text, () => {
  clearTimeout(timer)
  if (!text.value.trim()) {
    state.value = 'idle'
    found.value = []
    alike.value = null
    return
  }
  timer = setTimeout(look, 120)
})
async function look(): Promise<void> {
  const mine = ++asked
  state.value = 'looking'
  try {
    const page = await api<{ leads: LeadView[]; total: number; more: boolean }>('/api/team/leads', {
      query: { search: text.value, size: MOST },
    })
    if (mine !== asked) return
    found.value = page.leads
    total.value = page.total
    more.value = page.more
    at.value = 0
    state.value = 'done'
    alike.value = null
    if (page.total < FEW && text.value.trim().length > 2) {
      const also = await api<Alike>('/api/team/leads/alike', { query: { search: text.value } })
      if (mine === asked) alike.value = also
    }
  } catch {
    if (mine === asked) state.value = 'failed'
  }
}
function open(lead: { id: string } | undefined): void {
  if (!lead) return
  visible.value = false
  void navigateTo(`/follow-up/leads/${lead.id}`)
}
function said(): void {
  visible.value = false
  void navigateTo({ path: '/follow-up', query: { said: text.value } })
}
function all(): void {
  visible.value = false
  void navigateTo({ path: '/follow-up', query: { search: text.value } })
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    header="Find somebody"
    position="top"
    :style="{ width: 'min(560px, 94vw)' }"
    dismissable-mask
    @hide="text = ''"
  >
    <InputText
      v-model="text"
      autofocus
      fluid
      placeholder="Name, company or address"
      aria-label="Name, company or address"
      role="combobox"
      aria-controls="found"
      :aria-expanded="found.length > 0"
      @focus="ready"
      :aria-activedescendant="found[at] ? `found-${at}` : undefined"
      @keydown.down.prevent="at = Math.min(at + 1, found.length - 1)"
      @keydown.up.prevent="at = Math.max(at - 1, 0)"
      @keydown.enter.prevent="open(found[at])"
    />
    <ul id="found" role="listbox" aria-label="Found">
      <li
        v-for="(lead, i) in found"
        :id="`found-${i}`"
        :key="lead.id"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @click="open(lead)"
        @mousemove="at = i"
      >
        <LeadPin :fit="lead.fit" :interest="lead.interest" quiet />
        <span><b>{{ lead.name }}</b> <span class="faded">{{ [lead.company, lead.email].filter(Boolean).join(', ') }}</span></span>
      </li>
    </ul>
    <p v-if="alike?.said">
      <Button
        variant="link"
        size="small"
        :label="`In notes and mails: ${alike.more ? 'over ' : ''}${count(alike.said, 'lead', 'leads')}`"
        @click="said"
      />
    </p>
    <div v-if="others.length" class="like">
      <span class="faded small">Called nearly so:</span>
      <ul>
        <li v-for="l in others" :key="l.id">
          <button type="button" class="link" @click="open(l)">{{ l.name }}</button>
          <span class="faded">{{ [l.company, l.email].filter(Boolean).join(', ') }}</span>
        </li>
      </ul>
    </div>
    <p class="faded" role="status">
      <template v-if="state === 'done' && !found.length">Nobody matches “{{ text }}”.</template>
      <template v-else-if="state === 'failed'">The search did not answer. Type once more to try again.</template>
      <template v-else-if="state === 'idle'">Arrow keys choose, Enter opens.</template>
      <template v-else-if="total > MOST">
        <Button variant="link" size="small" :label="`All ${more ? 'of them, over ' : ''}${total} in the list`" @click="all" />
      </template>
    </p>
  </Dialog>
</template>

<style scoped>
ul { list-style: none; margin: 10px 0 0; padding: 0; }
li { display: flex; gap: 10px; align-items: baseline; padding: 7px 8px; cursor: pointer; overflow-wrap: anywhere; }
.link { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; line-height: 24px; } .link:focus-visible { outline: 2px solid var(--spruce); }
.like { margin-top: 8px; } .like li { padding: 3px 8px; cursor: auto; }
.at { background: var(--wash); }
p { margin-top: 8px; min-height: 22px; }
</style>
