<script setup lang="ts">
import type { AnswerInWords, TimelineLine } from '#core/timeline'

/** Everything that happened to a lead, newest first: each line in a sentence, and beneath it what was said or done. */
defineProps<{ lines: TimelineLine[]; /** Whose timeline it is, where notes of one's own may be changed. */ lead?: string }>()
const emit = defineEmits<{ changed: [] }>()
const house = useHouse()
const LONG = 400
const open = ref(new Set<string>())
const short = (id: string, text: string) => (text.length <= LONG || open.value.has(id) ? text : `${text.slice(0, LONG)}…`)
const answersOf = (line: TimelineLine): AnswerInWords[] => (line.kind === 'entry' || line.kind === 'unfinished' ? line.payload.answers : [])
</script>

<template>
  <ol class="timeline">
    <li v-for="line in lines" :key="line.id" :class="[line.kind, { undone: line.undone }]">
      <time :datetime="line.at" class="faded small">{{ ago(line.at) }}</time>
      <div class="what">
        <TimelineSentence :sentence="line.sentence" /><span v-if="line.undone" class="faded small"> (taken back)</span>
        <dl v-if="answersOf(line).length">
          <template v-for="(answer, i) in answersOf(line)" :key="i">
            <dt>{{ answer.question }}</dt>
            <dd>
              <template v-if="answer.files?.length">
                <a v-for="f in answer.files" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a>
              </template>
              <template v-else>{{ short(`${line.id}-${i}`, answer.text) }}</template>
              <button
                v-if="answer.text.length > LONG && !open.has(`${line.id}-${i}`)"
                type="button"
                class="more"
                @click="open.add(`${line.id}-${i}`)"
              >all
                of it</button>
            </dd>
          </template>
        </dl>
        <template v-if="line.kind === 'entry'">
          <p v-for="words in line.payload.agreed ?? []" :key="words" class="small">Agreed: “{{ words }}”</p>
          <p v-for="change in line.payload.changed ?? []" :key="change.property" class="small faded">
            {{ house.propertyName(change.property) }} was “{{ short(`${line.id}-${change.property}`, change.from) }}” before.
          </p>
        </template>
        <VisitPages v-else-if="line.kind === 'visit'" :pages="line.payload.pages" />
        <LeadNoteLine v-else-if="line.kind === 'note'" :note="line.payload" :lead="lead ?? null" @changed="emit('changed')" />
        <p v-else-if="line.kind === 'talked' && line.payload.what !== 'rated'" class="small">
          <NuxtLink :to="{ path: '/follow-up/conversations', query: { of: line.payload.talk } }">Read what was said</NuxtLink>
        </p>
        <template v-else-if="line.kind === 'wrote'">
          <p class="said">{{ line.payload.text }}</p>
          <a v-for="f in line.payload.files ?? []" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a>
        </template>
        <p v-else-if="(line.kind === 'call') && line.payload.text" class="said">{{ line.payload.text }}</p>
        <template v-else-if="line.kind === 'replied'">
          <p class="said theirs">{{ short(`${line.id}-r`, line.payload.text) }}</p>
          <details v-if="line.payload.quoted" class="small faded">
            <summary>What they quoted</summary>
            <p class="said">{{ line.payload.quoted }}</p>
          </details>
        </template>
        <dl v-else-if="line.kind === 'corrected'">
          <template v-for="(answer, i) in line.payload.answers" :key="i">
            <dt>{{ answer.question }}</dt>
            <dd>{{ answer.to || 'nothing' }} <span class="faded small">before: {{ answer.from || 'nothing' }}</span></dd>
          </template>
        </dl>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.timeline { list-style: none; margin: 0; padding: 0; }
li { display: grid; grid-template-columns: 104px 1fr; gap: 12px; padding: 8px 0; border-top: 1px solid var(--rule); }
time { padding-top: 2px; }
.what { min-width: 0; overflow-wrap: anywhere; }
dl { display: grid; grid-template-columns: minmax(90px, 34%) 1fr; gap: 2px 12px; margin: 6px 0 2px; font-size: 14px; line-height: 20px; }
dt { color: var(--faded); } dd { margin: 0; white-space: pre-wrap; min-width: 0; overflow-wrap: anywhere; }
.said { white-space: pre-wrap; border-left: 3px solid var(--spruce); padding-left: 10px; }
.undone .what { color: var(--faded); } .undone .what :deep(b), .undone .said { text-decoration: line-through; }
.theirs { border-left-color: var(--slate); }
.file { display: block; }
.more { all: unset; margin-left: 0.4em; cursor: pointer; color: var(--spruce); text-decoration: underline; }
@media (max-width: 700px) { li { grid-template-columns: 1fr; gap: 0; } dl { grid-template-columns: 1fr; } dd { margin-bottom: 4px; } }
</style>
