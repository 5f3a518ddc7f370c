<script setup lang="ts">
/** A session that ended is begun anew where one is: what stands on the screen and was half typed stays. */
const session = useSession()
const password = ref('')
const problem = ref('')
const busy = ref(false)
async function again(): Promise<void> {
  if (!password.value || busy.value) return
  busy.value = true
  problem.value = ''
  try {
    await session.signInAgain(password.value)
    password.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Dialog :visible="session.ended" modal :closable="false" header="Your session has ended" :style="{ width: '24rem' }">
    <form class="again" @submit.prevent="again">
      <p>What you see and what you typed stays. Sign in as {{ session.me?.name }} to go on.</p>
      <label for="again-password">Password</label>
      <InputText id="again-password" v-model="password" type="password" autocomplete="current-password" autofocus fluid />
      <p v-if="problem" class="brick" role="alert">{{ problem }}</p>
      <div class="ways">
        <Button type="submit" label="Sign in" :loading="busy" :disabled="!password" />
        <Button type="button" label="Somebody else" variant="text" @click="session.leave()" />
      </div>
    </form>
  </Dialog>
</template>

<style scoped>
.again { display: grid; gap: 6px; }
.ways { display: flex; gap: 8px; margin-top: 6px; }
</style>
