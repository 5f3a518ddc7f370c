<script setup lang="ts">
import type { HostView } from '~/composables/hosts'

/** Names of one's own under which forms and pages are found, each with whether it leads here. */
defineProps<{ may: boolean }>()
const say = useToasts()
const { data: hosts, problem } = useHosts()
const name = ref('')
const flaw = ref('')
const add = (wished: string) => api<{ name: string }>('/api/team/hosts', { method: 'POST', body: { name: wished } })
const take = (host: string) => api(`/api/team/hosts/${host}`, { method: 'DELETE' })

async function keep(): Promise<void> {
  flaw.value = ''
  try {
    const made = await add(name.value)
    name.value = ''
    say.done(`${made.name} is known. Let it lead here, then try it.`, () => take(made.name))
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function away(host: HostView): Promise<void> {
  try {
    await take(host.name)
    say.done(`${host.name} is taken away.`, () => add(host.name))
  } catch (error) {
    say.failed(error)
  }
}
async function front(host: HostView, id: string | null): Promise<void> {
  try {
    await api(`/api/team/hosts/${host.name}`, { method: 'PUT', body: { front: id } })
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <section aria-labelledby="hosts-title">
    <h2 id="hosts-title">Addresses of your own</h2>
    <p class="faded">
      Forms and pages can stand under a name of yours, like hello.firm.example. Let the name lead to the computer that Cavlin runs on (a
      CNAME or A record where you look after your names), and let the proxy there pass it on. Then choose it where a form or page is found.
    </p>
    <p v-if="problem && !hosts" role="alert" class="brick">{{ problem.message }}</p>
    <ul v-if="hosts?.length">
      <li v-for="host in hosts" :key="host.name">
        <div class="who">
          <b>{{ host.name }}</b>
          <Button
            v-if="may"
            label="Take away"
            :aria-label="`Take ${host.name} away`"
            size="small"
            variant="text"
            severity="danger"
            :disabled="host.points.length > 0"
            @click="away(host)"
          />
        </div>
        <p v-if="host.arrivedAt">It leads here; a browser came under it first {{ ago(host.arrivedAt) }}.</p>
        <p v-else class="untried">
          Nobody has come under it yet, so nobody is led there. <a :href="host.tryAt" target="_blank" rel="noopener">Try it</a>
        </p>
        <p class="faded small">
          <template v-if="host.points.length">There: {{ host.points.map(p => p.name).join(', ') }}.</template>
          <template v-else>Nothing stands under it.</template>
        </p>
        <div v-if="host.points.length" class="front">
          <label :id="`front-${host.name}`">At the bare name</label>
          <Select
            :model-value="host.front"
            :options="host.points"
            option-label="name"
            option-value="id"
            show-clear
            placeholder="nothing"
            :disabled="!may"
            :aria-labelledby="`front-${host.name}`"
            @update:model-value="front(host, $event)"
          />
        </div>
      </li>
    </ul>
    <form v-if="may" @submit.prevent="keep">
      <label for="host-name">A further name</label>
      <div class="row">
        <InputText
          id="host-name"
          v-model="name"
          maxlength="300"
          spellcheck="false"
          fluid
          placeholder="hello.firm.example"
          :invalid="Boolean(flaw)"
          aria-describedby="host-flaw"
        />
        <Button type="submit" label="Add it" variant="outlined" :disabled="!name.trim()" />
      </div>
      <p id="host-flaw" class="brick small" role="alert">{{ flaw }}</p>
    </form>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  margin-top: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  gap: 2px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.who,
.front,
.row {
  display: flex;
  gap: 10px;
  align-items: center;
}
.who {
  justify-content: space-between;
}
.untried {
  padding-left: 10px;
  border-left: 3px solid var(--brick);
}
label {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
}
</style>
