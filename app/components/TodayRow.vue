<script setup lang="ts">
import type { TodayLead } from '#core/team'
import { STEP_WORDS } from '#core/follow-up/state'

/** Somebody who needs something today: who, one line of why, and until when. */
const props = defineProps<{
  lead: TodayLead
  to: string | { query: { lead: string } }
  chosen: boolean
  replace: boolean
  now: number
  /** It is about their next step. */ step?: boolean
}>()
const house = useHouse()
const late = computed(() => props.lead.nextStep && Date.parse(props.lead.nextStep.due) < props.now)
/** What counts most for them now, or how they were left before. */
const why = computed(() => {
  const { outcome, reasons, acceptBy, tries } = props.lead
  if (acceptBy) return `Handed to you: take them until ${due(acceptBy)}`
  if (props.lead.reply) return `Answered ${ago(props.lead.reply.at)}: ${props.lead.reply.subject}`
  const best = reasons.toSorted((a, b) => b.now - a.now)[0]
  if (outcome && outcome.status !== props.lead.status)
    return `Came back: ${house.statusName(outcome.status)} ${ago(outcome.at)}${outcome.reason ? `, ${outcome.reason.toLowerCase()}` : ''}`
  if (outcome?.value && outcome.status === props.lead.status) return `A customer since ${ago(outcome.at)}, ${house.money(outcome.value)}`
  return [best && best.now > 0 ? best.name : '', tries ? `${count(tries, 'call', 'calls')} reached nobody` : ''].filter(Boolean).join('; ')
})
</script>

<template>
  <li :class="{ chosen }">
    <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
    <NuxtLink :to="to" :replace="replace" :aria-current="chosen ? 'true' : undefined">
      <template v-if="step"><span class="name">{{ lead.nextStep!.text }}</span><span class="faded"> {{ lead.name }}</span></template>
      <template v-else><span class="name">{{ lead.name }}</span><span v-if="lead.company" class="faded">{{ lead.company }}</span></template>
    </NuxtLink>
    <div v-if="step" class="second small">
      <span class="faded">
        {{ [lead.nextStep!.kind === 'other' ? '' : STEP_WORDS[lead.nextStep!.kind], house.statusName(lead.status)].filter(Boolean).join(', ') }}
      </span>
      <span :class="late ? 'late' : 'faded'">{{ late ? 'Late, ' : '' }}{{ due(lead.nextStep!.due) }}</span>
    </div>
    <template v-else>
      <p class="why small"><LabelMark :label="lead.label" /><span class="faded" :title="why">{{ why }}</span></p>
      <WaitingMark class="second" :urgency="lead.urgency!" :by="lead.urgency!.state === 'overdue' ? null : lead.answerBy" />
    </template>
  </li>
</template>

<style scoped>
li { display: grid; grid-template-columns: 16px 1fr; gap: 0 10px; padding: 8px 10px; border-top: 1px solid var(--rule); position: relative; }
li:has(a:hover) { background: color-mix(in srgb, var(--wash) 50%, transparent); }
a { color: inherit; text-decoration: none; overflow-wrap: anywhere; }
a::after { content: ''; position: absolute; inset: 0; }
:deep(.pin) { position: relative; z-index: 1; margin-top: 3px; }
.name { font-weight: 600; margin-right: 0.4em; }
.chosen { background: var(--wash); box-shadow: inset 3px 0 var(--spruce); }
.why { grid-column: 2; display: flex; gap: 0 12px; min-width: 0; } .why :deep(.label) { font-size: 13px; line-height: 18px; flex: none; } .why > span:last-child { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.second { grid-column: 2; }
div.second { display: flex; flex-wrap: wrap; justify-content: space-between; gap: 0 12px; }
.late { color: var(--brick); }
</style>
