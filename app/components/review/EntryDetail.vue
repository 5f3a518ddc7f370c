<script setup lang="ts">
import { inWords } from '#core/conditions/words'
import type { ReviewedEntry } from '#core/review'

/** An entry that waits, or was refused: what was sent, and why it is not in. */
const props = defineProps<{ entry: ReviewedEntry; busy: boolean }>()
const names = useAttributeNames()
/** Why it is not in; where a condition holds it, that one in words. */
const why = computed(() => {
  const { reason, holds, point } = props.entry
  if (!holds) return whySetAside(reason)
  const asked = (name: string) => holds.questions.find(q => `answer.${q.key}` === name)
  return `“${point}” holds entries where this is so: ${inWords(holds.when, {
    attribute: name => asked(name)?.label ?? names.value.attribute(name),
    value: (name, found) =>
      asked(name) ? (asked(name)!.choices.find(c => c.value === found)?.text ?? String(found)) : names.value.value(name, found),
  })}.`
})
defineEmits<{ letIn: []; refuse: []; back: [] }>()
</script>

<template>
  <section class="entry" aria-label="The entry">
    <h2>{{ entry.email ?? 'No address' }}</h2>
    <p class="faded">Sent <NuxtLink :to="`/capture/points/${entry.pointId}`">{{ entry.point }}</NuxtLink>, edition {{ entry.edition }},
      {{ due(entry.at) }}<template v-if="entry.page">, on {{ entry.page }}</template>
    </p>
    <p class="why">{{ why }}</p>
    <p v-if="entry.letInAt" class="why in" role="status">{{ entry.judged?.by ?? 'Somebody' }} lets it in. In a moment it is a lead.</p>
    <p v-else-if="entry.judged && entry.state === 'refused'" class="why">
      {{ entry.judged.by ?? 'Somebody' }} refused it {{ ago(entry.judged.at) }}: {{ entry.judged.why }}
    </p>
    <p v-else-if="entry.judged?.why" class="why brick" role="alert">It could not be let in: {{ entry.judged.why }}</p>
    <dl v-if="entry.answers.length">
      <template v-for="answer in entry.answers" :key="answer.question"><dt>{{ answer.question }}</dt><dd>{{ answer.text }}</dd></template>
    </dl>
    <div class="do">
      <template v-if="entry.letInAt">
        <Button label="Wait, take it back" variant="outlined" :disabled="busy" @click="$emit('back')" />
      </template>
      <template v-else>
        <Button :disabled="busy" @click="$emit('letIn')"><span>Let it in</span> <kbd>l</kbd></Button>
        <Button v-if="entry.state === 'held'" variant="outlined" :disabled="busy" @click="$emit('refuse')">
          <span>Refuse it …</span> <kbd>r</kbd>
        </Button>
        <Button v-else-if="entry.judged" label="It waits again" variant="outlined" :disabled="busy" @click="$emit('back')" />
      </template>
      <p class="faded small">
        {{ entry.state === 'held' ? 'Let in, it goes the whole way as if it had come now: scored, routed, and told to its owner. Until then it is in no figure and gets no mail.' : 'Kept for a week, in case it was a person after all.' }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.entry { display: grid; gap: 8px; grid-template-columns: minmax(0, 1fr); overflow-wrap: anywhere; }
.why { padding: 6px 12px; border-left: 3px solid var(--honey-mark); }
.why.in { border-left-color: var(--spruce); }
dl { display: grid; grid-template-columns: minmax(100px, 200px) 1fr; margin: 4px 0; }
dt, dd { padding: 6px 12px 6px 0; border-top: 1px solid var(--rule); }
dt { color: var(--faded); font-size: 14px; }
dd { margin: 0; white-space: pre-wrap; max-height: 16rem; overflow: auto; }
.do { display: flex; flex-wrap: wrap; gap: 8px 10px; align-items: center; }
.do p { flex-basis: 100%; }
@media (max-width: 560px) { dl { grid-template-columns: 1fr; } dd { border-top: 0; padding-top: 0; } }
</style>
