<script setup lang="ts">
import type { PointKind } from '#core/points/kinds'
import { pagesOf, type PointDefinition } from '#core/points/definition'
import type { PageDefinition } from '#core/pages/definition'
import type { Results } from '#core/results/results'
import { proportion } from '#core/stats/proportion'

/** The storyboard, small, with how many came to each frame; the loss between two is the gap in the line that joins them. */
const props = defineProps<{
  kind: PointKind
  definition: PointDefinition | PageDefinition
  slug: string
  results: Results
  called: string
}>()
const form = computed(() => (props.kind !== 'page' ? (props.definition as PointDefinition) : null))
const quiz = computed(() => form.value?.quiz ?? null)
/** A quiz asks one question a part: where people left it stands below, question by question. */
const parts = computed(() => (form.value && !quiz.value ? pagesOf(form.value.questions.filter(q => q.hidden?.from !== 'fixed')) : []))

interface Frame {
  key: string
  title: string
  n: number
  what: string
}
const frames = computed<Frame[]>(() => {
  const { all, stops, looks } = props.results
  const came = (part: number) =>
    Math.max(0, ...stops.filter(s => parts.value.slice(part).some(p => p.some(q => q.key === s.question))).map(s => s.reached))
  const later = parts.value
    .slice(1)
    .map((_, i) => ({ key: `questions-${i + 1}`, title: `Part ${i + 2}`, n: Math.max(came(i + 1), all.counted), what: 'came so far' }))
  return [
    ...(looks ? [{ key: 'where', title: props.kind === 'page' ? 'The page' : 'Where it stands', n: all.seen, what: 'saw it' }] : []),
    ...(looks && props.kind !== 'page' ? [{ key: 'questions-0', title: 'Questions', n: all.begun, what: 'began' }, ...later] : []),
    {
      key: 'thanks',
      title: quiz.value ? 'Results' : 'Thanks',
      n: looks ? all.counted : all.sent + all.nameless,
      what: quiz.value ? 'finished it' : 'sent it',
    },
  ]
})
const finished = computed(() => props.results.all.sent + props.results.all.nameless)
const left = computed(() => proportion(props.results.all.sent, finished.value))
const goOn = (i: number) => {
  const [here, next] = [frames.value[i]!.n, frames.value[i + 1]!.n]
  return proportion(Math.min(here, next), here)
}
</script>

<template>
  <ol class="line" :aria-label="called">
    <li v-for="(f, i) in frames" :key="f.key">
      <div class="frame">
        <div class="small-picture" aria-hidden="true">
          <StoryboardFormFrame
            v-if="form && f.key !== 'where'"
            :definition="form"
            :frame="f.key === 'thanks' ? 'thanks' : 'questions'"
            :part="Number(f.key.split('-')[1] ?? 0)"
            later
            inert
          />
          <StoryboardAppearFrame v-else-if="form?.display.on" :definition="form" small />
          <PagesPageFrame
            v-else-if="kind === 'page'"
            class="broad"
            :page="definition as PageDefinition"
            :frame="f.key === 'thanks' ? 'thanks' : 'page'"
            :form="null"
            later
            inert
          />
          <span v-else class="words">/p/{{ slug }}</span>
        </div>
        <p class="n">
          <b>{{ f.n.toLocaleString('en') }}</b> {{ f.what }}
        </p>
        <p class="small faded">{{ f.title }}</p>
      </div>
      <div v-if="i < frames.length - 1" class="go">
        <span class="track" aria-hidden="true"><span class="on" :style="{ width: `${goOn(i).rate * 100}%` }" /></span>
        <span v-if="f.n && goOn(i).tooFew" class="small faded">too few to tell</span>
        <span v-else-if="f.n" class="small"><b>{{ percent(goOn(i).rate) }}</b> go on,
          <span class="faded">{{ percent(goOn(i).low) }} to {{ percent(goOn(i).high) }}</span></span>
      </div>
    </li>
  </ol>
  <p v-if="results.all.nameless" class="named">
    <span>{{ results.all.sent.toLocaleString('en') }} of {{ finished.toLocaleString('en') }} who finished it left an address:</span>
    <RateBar class="rate" :value="left" :hits="results.all.sent" :trials="finished" />
    <span class="small faded">{{ count(results.all.nameless, 'person', 'people') }} did not say who they are.</span>
  </p>
  <p v-if="results.looks && finished > results.all.counted" class="small faded">
    {{ count(finished - results.all.counted, 'entry', 'entries') }} more came from where looks are not counted: nobody there had
    agreed to that. They are in all figures below.
  </p>
</template>

<style scoped>
.line {
  display: flex;
  list-style: none;
  margin: 0;
  padding: 2px 0 6px;
  overflow-x: auto;
}
.line li {
  display: flex;
  flex: 1 1 auto;
  min-width: 0;
}
.line li:last-child {
  flex: none;
}
.frame {
  flex: none;
  width: 168px;
}
.small-picture {
  position: relative;
  height: 96px;
  overflow: hidden;
  background: #e9e6dc;
  border: 1px solid var(--rule);
  border-radius: 3px;
}
.small-picture :deep(> div) {
  position: absolute;
  top: 6px;
  left: 50%;
  width: 460px;
  transform: translateX(-50%) scale(0.31);
  transform-origin: top center;
  pointer-events: none;
}
.small-picture :deep(> .broad) {
  top: 0;
  width: 1100px;
  transform: translateX(-50%) scale(0.152);
}
.named {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 4px 0;
}
.named .rate {
  flex: 0 1 22rem;
}
.words {
  display: block;
  padding: 14px 10px;
  font-size: 12.5px;
  color: #3c4849;
  overflow-wrap: anywhere;
}
.n {
  margin: 6px 0 0;
  font-variant-numeric: tabular-nums;
}
.n b {
  font: 640 20px/24px var(--heading);
}
.go {
  flex: 1;
  min-width: 84px;
  padding: 44px 10px 0;
}
.track {
  display: block;
  height: 8px;
  margin-bottom: 4px;
}
.on {
  display: block;
  height: 8px;
  background: var(--spruce);
}
</style>
