<script setup lang="ts">
import type { ClaimToJudge } from '#core/team'

/** An address that was confirmed for somebody who has another, or that another lead has. */
const props = defineProps<{ claim: ClaimToJudge }>()
const emit = defineEmits<{ judged: [] }>()
const say = useToasts()
const busy = ref(false)
async function judge(theirs: boolean): Promise<void> {
  if (busy.value) return
  busy.value = true
  try {
    await api(`/api/team/leads/${props.claim.lead}/claims/${props.claim.id}`, { method: 'PUT', body: { theirs } })
    say.done(theirs ? `${props.claim.address} is theirs.` : `${props.claim.address} is not theirs. It gets no mail from us.`)
    emit('judged')
  } catch (error) {
    say.failed(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="claim" aria-label="The address">
    <h2>{{ claim.address }}</h2>
    <p>Somebody gave it in the name of <NuxtLink :to="`/follow-up/leads/${claim.lead}`">{{ claim.name }}</NuxtLink>
      <template v-if="claim.company">, {{ claim.company }}</template>, and whoever reads it says that it is theirs
      ({{ ago(claim.confirmedAt) }}).</p>
    <p v-if="claim.own">They have {{ claim.own }} already. Two say that they are the same person: find out who it is, by telephone
      perhaps.</p>
    <template v-if="claim.elsewhere">
      <p>Another lead has this address. If the two are one person, join them.</p>
      <ReviewComparePair :a="claim.lead" :b="claim.elsewhere" @judged="emit('judged')" />
    </template>
    <div class="do">
      <Button v-if="!claim.elsewhere" label="It is theirs" :loading="busy" @click="judge(true)" />
      <Button label="It is not theirs" variant="outlined" :disabled="busy" @click="judge(false)" />
    </div>
  </section>
</template>

<style scoped>
.claim { display: grid; gap: 10px; grid-template-columns: minmax(0, 1fr); overflow-wrap: anywhere; }
.do { display: flex; flex-wrap: wrap; gap: 8px; }
</style>
