<script setup lang="ts">
import { may } from '#core/roles'
import type { LeadView } from '#core/team'

/** Somebody whom one of us met is written down. */
const visible = defineModel<boolean>('visible', { required: true })
const house = useHouse()
const session = useSession()
const router = useRouter()
const blank = () => ({ email: '', first_name: '', last_name: '', company: '', phone: '', from: '' })
const typed = reactive(blank())
const owner = ref<string>(session.me!.id)
const NOBODY = 'nobody'
const owners = computed(() => [
  ...house
    .words!.members.filter(m => may(m.role, 'work leads'))
    .map(m => ({ id: m.id, name: m.id === session.me!.id ? `${m.name} (you)` : m.name })),
  { id: 'plan', name: 'Whoever the plan says' },
  { id: NOBODY, name: 'Nobody' },
])
const flaws = ref<{ field: string; message: string }[]>([])
const problem = ref('')
const known = ref('')
const saving = ref(false)
const flaw = (field: string) => flaws.value.find(f => f.field === field || f.field === `values.${field}`)?.message
const FIELDS = [
  ['first_name', 'First name'],
  ['last_name', 'Last name'],
  ['company', 'Company'],
  ['phone', 'Phone'],
] as const
const has = (key: string) => house.words!.properties.some(p => p.key === key && !p.retired)
async function save(): Promise<void> {
  saving.value = true
  flaws.value = []
  problem.value = known.value = ''
  const { email, from, ...values } = typed
  try {
    const lead = await api<LeadView>('/api/team/leads', {
      method: 'POST',
      body: {
        email,
        from,
        values: Object.fromEntries(Object.entries(values).filter(([, v]) => v.trim())),
        owner: owner.value === NOBODY ? null : owner.value,
      },
    })
    visible.value = false
    Object.assign(typed, blank())
    await router.push(`/follow-up/leads/${lead.id}`)
  } catch (error) {
    if (error instanceof ApiError) flaws.value = error.flaws
    known.value = /(\/follow-up\/leads\/\S+)/.exec((error as Error).message)?.[1] ?? ''
    problem.value = known.value ? 'They are a lead already.' : flaws.value.length ? '' : (error as Error).message
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Write somebody down" :style="{ width: '28rem' }" :dismissable-mask="true">
    <form class="new" novalidate @submit.prevent="save">
      <label for="new-email">E-mail address</label>
      <InputText id="new-email" v-model="typed.email" type="email" maxlength="254" autofocus fluid :invalid="Boolean(flaw('email'))" />
      <p v-if="flaw('email') && !known" class="brick small" role="alert">{{ flaw('email') }}</p>
      <template v-for="[key, label] in FIELDS" :key="key">
        <template v-if="has(key)">
          <label :for="`new-${key}`">{{ label }}</label>
          <InputText :id="`new-${key}`" v-model="typed[key]" maxlength="300" fluid :invalid="Boolean(flaw(key))" />
          <p v-if="flaw(key)" class="brick small" role="alert">{{ flaw(key) }}</p>
        </template>
      </template>
      <label for="new-from">Where you met</label>
      <InputText id="new-from" v-model="typed.from" maxlength="300" placeholder="At the garden fair" fluid />
      <label id="new-owner">Who answers for them</label>
      <Select v-model="owner" :options="owners" option-label="name" option-value="id" aria-labelledby="new-owner" fluid />
      <p v-if="problem" class="brick" role="alert">
        {{ problem }} <NuxtLink v-if="known" :to="known" @click="visible = false">Open them</NuxtLink>
      </p>
      <Button type="submit" label="Write them down" :loading="saving" />
    </form>
  </Dialog>
</template>

<style scoped>
.new { display: grid; gap: 5px; } .new > .p-button { justify-self: start; margin-top: 8px; }
</style>
