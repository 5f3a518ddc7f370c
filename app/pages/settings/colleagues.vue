<script setup lang="ts">
import { ROLES, type Role } from '#core/roles'
import type { ColleagueView } from '#core/team'

useHead({ title: 'Colleagues – Cavlin' })
const session = useSession()
const say = useToasts()
const { data: all, problem, refresh } = useLiveQuery(() => api<ColleagueView[]>('/api/team/members'), { colleagues: true })
const WHAT: Record<Role, string> = { admin: 'Admin', manager: 'Manager', marketer: 'Marketer', sales: 'Sales' }
const options = ROLES.map(key => ({ key, name: WHAT[key] }))

async function change(c: ColleagueView, to: { role: Role; active: boolean }): Promise<void> {
  const before = { role: c.role, active: c.active }
  try {
    await api(`/api/team/members/${c.id}`, { method: 'PUT', body: to })
    await refresh()
    const did =
      to.active !== before.active
        ? to.active
          ? `${c.name} works here again.`
          : `${c.name} can no longer sign in.`
        : `${c.name} is ${WHAT[to.role].toLowerCase()} now, and signs in anew.`
    say.done(did, () => change({ ...c, ...to }, before))
  } catch (error) {
    say.failed(error)
    await refresh()
  }
}
</script>

<template>
  <div class="page">
    <h1>Colleagues</h1>
    <p class="faded">Whoever gets another role, or is taken out, is signed out everywhere at once.</p>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <table v-if="session.may('manage members') && all" class="figures">
      <thead><tr><th>Name</th><th>Role</th><th>Signed in</th><th><span class="unseen">What to do</span></th></tr></thead>
      <tbody>
        <tr v-for="c in all" :key="c.id" :class="{ out: !c.active }">
          <td><b>{{ c.name }}</b><br><span class="faded small">{{ c.email }}</span></td>
          <td>
            <Select
              :model-value="c.role"
              :options="options"
              option-label="name"
              option-value="key"
              size="small"
              class="role"
              :disabled="!c.active"
              :aria-label="`Role of ${c.name}`" @update:model-value="change(c, { role: $event, active: c.active })"
            />
          </td>
          <td>
            {{ !c.active ? 'does not work here' : c.sessions ? `${count(c.sessions, 'browser', 'browsers')}, ${ago(c.seenAt!)}` : 'nowhere' }}
          </td>
          <td class="n">
            <Button
              :label="c.active ? 'Take out' : 'Bring back'"
              :aria-label="`${c.active ? 'Take out' : 'Bring back'} ${c.name}`"
              variant="text"
              size="small"
              :severity="c.active ? 'danger' : undefined" @click="change(c, { role: c.role, active: !c.active })"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.page { max-width: 860px; margin: 0 auto; display: grid; gap: 14px; }
td, th { padding: 7px 12px 7px 0; border-bottom: 1px solid var(--rule); }
.out { color: var(--faded); }
.role { width: 116px; }
</style>
