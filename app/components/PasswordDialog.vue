<script setup lang="ts">
/** Another password for oneself. */
const visible = defineModel<boolean>('visible', { required: true })
const say = useToasts()
const present = ref('')
const next = ref('')
const problem = ref('')
const busy = ref(false)
watch(visible, () => {
  present.value = next.value = problem.value = ''
})

async function change(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    await api('/api/session/password', { method: 'PUT', body: { present: present.value, next: next.value } })
    visible.value = false
    say.done('Your password is changed. Other browsers are signed out.')
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Change the password" dismissable-mask>
    <form @submit.prevent="change">
      <div>
        <label for="present-password">Present password</label>
        <InputText id="present-password" v-model="present" type="password" autocomplete="current-password" fluid />
      </div>
      <div>
        <label for="next-password">New password</label>
        <InputText
          id="next-password"
          v-model="next"
          type="password"
          autocomplete="new-password"
          aria-describedby="next-password-help"
          fluid
        />
        <p id="next-password-help" class="faded small">At least 12 characters; three or four words do well.</p>
      </div>
      <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
      <div><Button type="submit" label="Change it" :loading="busy" :disabled="!present || next.length < 12" /></div>
    </form>
  </Dialog>
</template>

<style scoped>
form { display: grid; gap: 12px; width: min(380px, 78vw); }
label { display: block; margin-bottom: 3px; }
</style>
