<script setup lang="ts">
import type { ToastMessageOptions } from 'primevue/toast'

const say = useToasts()
const toast = useToast()
async function takeBack(message: ToastMessageOptions): Promise<void> {
  toast.remove(message)
  try {
    await (message.detail as () => Promise<unknown>)()
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <Toast group="say" position="bottom-right">
    <template #message="{ message }">
      <div class="said" :class="message.severity">
        <span>{{ message.summary }}</span>
        <Button v-if="message.detail" label="Take it back" size="small" variant="outlined" @click="takeBack(message)" />
      </div>
    </template>
  </Toast>
</template>

<style scoped>
.said { display: flex; flex: 1; align-items: center; justify-content: space-between; gap: 12px; }
</style>
