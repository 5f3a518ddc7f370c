<script setup lang="ts">
import type { NuxtError } from '#app'

/** What stands where a screen cannot: it is not there, or it broke. */
const props = defineProps<{ error: NuxtError }>()
const missing = computed(() => props.error.status === 404 || props.error.statusCode === 404)
useHead({ title: () => `${missing.value ? 'Not here' : 'This did not work'} – Cavlin` })
const leave = (to: string) => clearError({ redirect: to })
const again = () => window.location.reload()
</script>

<template>
  <main class="lost">
    <img src="/icon.svg" alt="" width="40" height="40">
    <h1>{{ missing ? 'There is nothing at this address' : 'This screen did not work' }}</h1>
    <p v-if="missing" class="faded">Perhaps the link is incomplete, or what stood here was taken away. Nothing was changed.</p>
    <p v-else class="faded">What was kept is safe. Load it again; if it stays so, tell whoever looks after Cavlin what you were about to
      do.</p>
    <p class="ways">
      <Button v-if="!missing" label="Load it again" @click="again" />
      <Button label="Today" :variant="missing ? undefined : 'outlined'" @click="leave('/')" />
      <Button label="All leads" variant="outlined" @click="leave('/follow-up')" />
    </p>
  </main>
</template>

<style scoped>
.lost { max-width: 560px; margin: 0 auto; padding: 14vh 20px; display: grid; gap: 12px; justify-items: start; }
.ways { display: flex; flex-wrap: wrap; gap: 8px; }
</style>
