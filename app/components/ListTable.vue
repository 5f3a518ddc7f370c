<script setup lang="ts">
/** The lists of the house: who made them fills them by hand, by a form, or with a table. */
defineProps<{ mayEdit: boolean }>()
const house = useHouse()
const say = useToasts()
const name = ref('')
const flaw = ref('')
const renaming = ref<{ id: string; name: string } | null>(null)
const bringing = ref<{ id: string; name: string } | null>(null)

async function make(): Promise<void> {
  flaw.value = ''
  try {
    await api('/api/team/lists', { method: 'POST', body: { name: name.value } })
    await house.load()
    name.value = ''
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function put(list: { id: string; name: string }, change: { name?: string; removed: boolean }): Promise<boolean> {
  try {
    await api(`/api/team/lists/${list.id}`, { method: 'PUT', body: { name: change.name ?? list.name, removed: change.removed } })
    await house.load()
    return true
  } catch (error) {
    say.failed(error)
    return false
  }
}
async function rename(): Promise<void> {
  const list = renaming.value!
  if (await put(list, { name: list.name, removed: false })) renaming.value = null
}
async function remove(list: { id: string; name: string }): Promise<void> {
  if (await put(list, { removed: true }))
    say.done(`The list ${list.name} is gone. Its people stay.`, async () => void (await put(list, { removed: false })))
}
</script>

<template>
  <section class="sheet" aria-labelledby="lists">
    <div class="title"><h2 id="lists">Lists</h2></div>
    <ul>
      <li v-for="l in house.words!.lists" :key="l.id">
        <form v-if="renaming?.id === l.id" class="new" @submit.prevent="rename">
          <InputText
            v-model="renaming.name"
            size="small"
            maxlength="60"
            aria-label="New name of the list"
            fluid
            autofocus
            @keydown.esc="renaming = null"
          />
          <Button type="submit" label="Rename" size="small" :disabled="!renaming.name.trim()" />
        </form>
        <template v-else>
          <NuxtLink :to="{ path: '/follow-up', query: { list: l.id } }"><b>{{ l.name }}</b></NuxtLink>
          <span class="figure">{{ l.leads.toLocaleString('en') }}</span>
          <span v-if="mayEdit" class="do">
            <Button
              label="Bring people in"
              :aria-label="`Bring people in: ${l.name}`"
              size="small"
              variant="text"
              @click="bringing = { ...l }"
            />
            <Button
              label="Rename"
              :aria-label="`Rename ${l.name}`"
              size="small"
              variant="text"
              severity="secondary"
              @click="renaming = { id: l.id, name: l.name }"
            />
            <Button
              label="Take away"
              :aria-label="`Take away ${l.name}`"
              size="small"
              variant="text"
              severity="secondary"
              @click="remove(l)"
            />
          </span>
        </template>
      </li>
    </ul>
    <form class="new foot" @submit.prevent="make">
      <InputText v-model="name" size="small" maxlength="60" placeholder="A new list" aria-label="Name of a new list" fluid />
      <Button type="submit" label="Make it" size="small" variant="outlined" :disabled="!name.trim()" />
      <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
    </form>
    <ImportDialog v-if="bringing" :list="bringing" @done="bringing = null" />
  </section>
</template>

<style scoped>
section { margin-top: 20px; }
.title { padding: 10px 14px; border-bottom: 1px solid var(--rule); }
ul { list-style: none; margin: 0; padding: 0; }
li { display: grid; grid-template-columns: 1fr auto; gap: 0 12px; padding: 7px 14px; border-bottom: 1px solid var(--rule); overflow-wrap: anywhere; }
li a { color: inherit; text-decoration: none; padding: 2px 0; } li a:hover { text-decoration: underline; }
.figure { font-variant-numeric: tabular-nums; }
.do { grid-column: 1 / -1; margin-left: -8px; display: flex; flex-wrap: wrap; }
.new { display: flex; flex-wrap: wrap; gap: 6px; grid-column: 1 / -1; } .new .p-inputtext { flex: 1; min-width: 0; }
.foot { padding: 10px 14px; }
</style>
