<script setup lang="ts">
/** Chooses lists, or makes one. */
const ids = defineModel<string[]>({ required: true })
defineProps<{ id: string; called: string; disabled: boolean }>()
const house = useHouse()
const name = ref('')
const flaw = ref('')
async function make(): Promise<void> {
  flaw.value = ''
  try {
    const { id } = await api<{ id: string }>('/api/team/lists', { method: 'POST', body: { name: name.value } })
    await house.load()
    name.value = ''
    ids.value = [...ids.value, id]
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
</script>

<template>
  <MultiSelect
    v-model="ids"
    :input-id="id"
    :options="house.words!.lists"
    option-label="name"
    option-value="id"
    fluid
    placeholder="None"
    :show-toggle-all="false"
    :disabled="disabled"
    :aria-label="called"
  >
    <template #footer>
      <form class="new" @submit.prevent="make">
        <InputText
          v-model="name"
          size="small"
          maxlength="60"
          placeholder="A new list"
          aria-label="Name of a new list"
          fluid
          @keydown.stop
        />
        <Button type="submit" label="Make it" size="small" variant="outlined" :disabled="!name.trim()" />
        <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
      </form>
    </template>
  </MultiSelect>
</template>

<style scoped>
.new { display: flex; flex-wrap: wrap; gap: 6px; padding: 8px; border-top: 1px solid var(--rule); }
.new .p-inputtext { flex: 1; min-width: 0; }
</style>
