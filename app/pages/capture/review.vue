<script setup lang="ts">
import type { ReviewView, ClaimToJudge } from '#core/team'

useHead({ title: 'To review – Cavlin' })
const say = useToasts()
const { data: review, problem, refresh } = useReview()
const views = useCaptureViews(review)
const busy = ref<string | null>(null)
const { data: claims, refresh: refreshClaims } = useLiveQuery(() => api<ClaimToJudge[]>('/api/team/claims'), { review: true })

const REASONS: Record<string, string> = {
  origin: 'It came from a site that this form may not be used from.', trap: 'A field that people do not see was filled in, which machines do.', unproven: 'Machines were at this form, or it always asks for a proof, and this came without one.', too_fast: 'It came back faster than anybody can read.', unknown_person: 'We do not know this person, and the form is for people we know.', every_one: 'Each entry of this form waits until somebody approves it.',
}
const groups = computed(() => [
  { title: 'Held', what: 'They wait until one of us approves them.', rows: review.value?.filter(a => a.state === 'held') ?? [] },
  { title: 'Refused', what: 'Kept for a week, in case one of them was a person after all.', rows: review.value?.filter(a => a.state === 'refused') ?? [] },
].filter(g => g.rows.length))

async function judge(entry: ReviewView, approve: boolean): Promise<void> {
  busy.value = entry.id
  try {
    if (approve) {
      const { lead } = await api<{ lead: string }>(`/api/team/review/${entry.id}/approve`, { method: 'POST' })
      await navigateTo(`/follow-up/leads/${lead}`)
    } else {
      await api(`/api/team/review/${entry.id}`, { method: 'DELETE' })
      await refresh()
    }
  } catch (error) {
    say.failed(error)
    await refresh()
  } finally {
    busy.value = null
  }
}
async function judgeAddress(claim: ClaimToJudge, theirs: boolean): Promise<void> {
  busy.value = claim.id
  try {
    await api(`/api/team/leads/${claim.lead}/claims/${claim.id}`, { method: 'PUT', body: { theirs } })
    say.done(theirs ? `${claim.address} is theirs.` : `${claim.address} is not theirs. It gets no mail from us.`)
  } catch (error) {
    say.failed(error)
  } finally {
    busy.value = null
    await refreshClaims()
  }
}
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Capture" />
    <div class="head"><h1>To review</h1></div>
    <p v-if="problem && !review" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="review && !review.length && !claims?.length" class="sheet empty"><h2>Nothing is waiting for a review</h2><p class="faded">What looks like a machine, and people a form is not for, stand here instead of among your leads. Nothing of it is lost for a week.</p></div>
    <section v-if="claims?.length">
      <h2>Addresses <span class="faded small">Two say that they are the same person. Find out who it is, by telephone perhaps.</span></h2>
      <ul class="sheet">
        <li v-for="claim in claims" :key="claim.id">
          <div class="what">
            <p><b>{{ claim.address }}</b> for <NuxtLink :to="`/follow-up/leads/${claim.lead}`">{{ claim.name }}</NuxtLink><template v-if="claim.company">, {{ claim.company }}</template> <span class="faded small">confirmed {{ ago(claim.confirmedAt) }}</span></p>
            <p class="faded small"><template v-if="claim.own">They have {{ claim.own }} already. </template><template v-if="claim.elsewhere"><NuxtLink :to="`/follow-up/leads/${claim.elsewhere}`">Another lead</NuxtLink> has this address.</template></p>
          </div>
          <div class="do">
            <Button label="It is theirs" size="small" variant="outlined" :loading="busy === claim.id" :disabled="claim.elsewhere !== null" @click="judgeAddress(claim, true)" />
            <Button label="It is not" size="small" variant="text" severity="secondary" :disabled="busy === claim.id" @click="judgeAddress(claim, false)" />
          </div>
        </li>
      </ul>
    </section>
    <section v-for="group in groups" :key="group.title">
      <h2>{{ group.title }} <span class="faded small">{{ group.what }}</span></h2>
      <ul class="sheet">
        <li v-for="entry in group.rows" :key="entry.id">
          <div class="what">
            <p><b>{{ entry.email ?? 'No address' }}</b> through <NuxtLink :to="`/capture/points/${entry.pointId}`">{{ entry.point }}</NuxtLink> <span class="faded small">edition {{ entry.edition }}, {{ ago(entry.at) }}</span></p>
            <p class="faded small">{{ REASONS[entry.reason] ?? entry.reason }}</p>
            <dl v-if="entry.answers.length" class="small"><template v-for="answer in entry.answers" :key="answer.question"><dt>{{ answer.question }}</dt><dd>{{ answer.text.slice(0, 300) }}</dd></template></dl>
          </div>
          <div class="do">
            <Button label="Approve" size="small" variant="outlined" :loading="busy === entry.id" @click="judge(entry, true)" />
            <Button label="Throw it away" size="small" variant="text" severity="secondary" :disabled="busy === entry.id" @click="judge(entry, false)" />
          </div>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
section { margin-top: 16px; }
ul { list-style: none; margin: 8px 0 0; padding: 0; }
li { display: flex; gap: 16px; justify-content: space-between; padding: 12px 16px; border-bottom: 1px solid var(--rule); }
li:last-child { border-bottom: 0; }
.what { min-width: 0; overflow-wrap: anywhere; }
dl { display: grid; grid-template-columns: minmax(90px, auto) 1fr; gap: 0 14px; margin: 4px 0 0; }
dt { color: var(--faded); } dd { margin: 0; }
.do { display: flex; flex-direction: column; gap: 4px; flex: none; align-items: stretch; }
@media (max-width: 700px) { li { flex-direction: column; } .do { flex-direction: row; } }
</style>
