<script setup lang="ts">
import { SCOPE_WORDS, SCOPES, type Scope } from '#core/scopes'
import type { KeyView } from '#core/team'

useHead({ title: 'Keys for programs – Cavlin' })
const session = useSession()
const say = useToasts()
const { data: keys, problem, refresh } = useLiveQuery(() => api<KeyView[]>('/api/team/keys'), {})
const name = ref('')
const shown = ref('')
const scopes = ref<Scope[]>(['leads:read'])
const days = ref<number | null>(365)
const LASTS = [
  { days: 30, name: 'for 30 days' },
  { days: 90, name: 'for 90 days' },
  { days: 365, name: 'for a year' },
  { days: null, name: 'until it is taken out of use' },
]
const isOver = (key: KeyView) => key.expiresAt !== null && Date.parse(key.expiresAt) < Date.now()

async function make(): Promise<void> {
  try {
    shown.value = (
      await api<{ key: string }>('/api/team/keys', { method: 'POST', body: { name: name.value, scopes: scopes.value, days: days.value } })
    ).key
    name.value = ''
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
async function revoke(key: KeyView, revoked: boolean): Promise<void> {
  try {
    await api(`/api/team/keys/${key.id}/revoked`, { method: 'PUT', body: { revoked } })
    await refresh()
    if (revoked) say.done(`${key.name} no longer opens anything.`, () => revoke(key, false))
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <div class="page">
    <h1>Keys for programs</h1>
    <p class="faded">A program that shows a key may do through the <a href="/api/v1/openapi.json">open API</a> what its key allows, and
      nothing else.</p>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="session.may('manage keys') && keys">
      <form @submit.prevent="make">
        <label for="key-name">What will use it?</label>
        <div class="row"><InputText id="key-name" v-model="name" maxlength="100" fluid placeholder="The stock list" /></div>
        <fieldset>
          <legend>What may it do?</legend>
          <div v-for="scope in SCOPES" :key="scope" class="tick">
            <Checkbox v-model="scopes" :input-id="`scope-${scope}`" :value="scope" />
            <label :for="`scope-${scope}`">{{ SCOPE_WORDS[scope] }} <code class="faded small">{{ scope }}</code></label>
          </div>
        </fieldset>
        <div class="row lasts">
          <label id="lasts-label" for="lasts">It works</label>
          <Select v-model="days" input-id="lasts" :options="LASTS" option-label="name" option-value="days" aria-labelledby="lasts-label" />
          <Button type="submit" label="Make a key" :disabled="!name.trim() || !scopes.length" />
        </div>
      </form>
      <div v-if="shown" class="sheet fresh" role="status">
        <p>Here is the key. It is shown this once; we keep only its fingerprint. If it gets lost, make another.</p>
        <pre tabindex="0">{{ shown }}</pre>
        <Button label="I have it" size="small" variant="outlined" @click="shown = ''" />
      </div>
      <table class="figures">
        <thead>
          <tr>
            <th>Used by</th>
            <th>Begins with</th>
            <th>May</th>
            <th>Works until</th>
            <th>Made</th>
            <th>Last used</th>
            <th><span class="unseen">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="key in keys" :key="key.id">
            <td>{{ key.name }}</td><td><code>{{ key.hint }}…</code></td>
            <td class="may"><span v-for="scope in key.scopes" :key="scope">{{ SCOPE_WORDS[scope] }}</span></td>
            <td>{{ key.expiresAt === null ? 'taken out of use' : isOver(key) ? 'it ended ' + ago(key.expiresAt) : day(key.expiresAt) }}</td>
            <td>{{ ago(key.createdAt) }}<template v-if="key.createdBy"> by {{ key.createdBy }}</template></td>
            <td>{{ key.lastUsedAt ? ago(key.lastUsedAt) : 'never' }}</td>
            <td class="n"><Button label="Take out of use" variant="text" size="small" severity="danger" @click="revoke(key, true)" /></td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.page { max-width: 980px; margin: 0 auto; display: grid; gap: 14px; }
.row { display: flex; gap: 8px; max-width: 520px; }
.row .p-button { flex: none; }
fieldset { border: 0; padding: 0; margin: 10px 0; }
legend { padding: 0; margin-bottom: 4px; }
.tick { display: flex; gap: 8px; align-items: center; padding: 2px 0; }
.lasts { align-items: center; max-width: none; flex-wrap: wrap; }
.may span { display: block; }
.fresh { padding: 14px 16px; display: grid; gap: 8px; justify-items: start; }
pre { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; background: var(--paper); padding: 8px 10px; width: 100%; }
td, th { padding: 7px 12px 7px 0; border-bottom: 1px solid var(--rule); vertical-align: top; }
td .p-button { white-space: nowrap; margin-top: -4px; }
</style>
