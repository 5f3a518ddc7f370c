<script setup lang="ts">
import type { TimelineLine } from '#core/team'

/** Everything that happened to a lead, newest first. */
defineProps<{ lines: TimelineLine[] }>()
const house = useHouse()
const LONG = 400
const open = ref(new Set<string>())
const short = (id: string, text: string) => text.length <= LONG || open.value.has(id) ? text : `${text.slice(0, LONG)}…`
</script>

<template>
  <ol class="timeline">
    <li v-for="line in lines" :key="line.id" :class="line.kind">
      <time :datetime="line.at" class="faded small">{{ ago(line.at) }}</time>
      <div class="what">
        <template v-if="line.kind === 'came'">Came to us for the first time, through <b>{{ line.payload.point }}</b></template>
        <template v-else-if="line.kind === 'typed'">Typed {{ line.payload.email }} and did not send it <span class="faded small">not sent yet</span></template>
        <template v-else-if="line.kind === 'unfinished'">
          <template v-if="line.payload.sent">Filled in <b>{{ line.payload.form }}</b> on the site</template><template v-else>Left <b>{{ line.payload.point ?? line.payload.form }}</b> unfinished</template> <span class="faded small">on {{ line.payload.page.replace(/^https?:\/\/[^/]+/, '') || '/' }}</span>
          <dl><template v-for="(answer, i) in line.payload.answers" :key="i"><dt>{{ answer.question }}</dt><dd>{{ short(`${line.id}-${i}`, answer.text) }}</dd></template></dl>
        </template>
        <template v-else-if="line.kind === 'brought_in'">Brought in by {{ line.actor }} <span class="faded small">with the list “{{ line.payload.list }}”</span></template>
        <template v-else-if="line.kind === 'entry'">
          Filled in <b>{{ line.payload.point }}</b> <span class="faded small">edition {{ line.payload.edition }}<template v-if="line.payload.page">, on {{ line.payload.page.replace(/^https?:\/\/[^/]+/, '') || '/' }}</template></span>
          <dl>
            <template v-for="(answer, i) in line.payload.answers" :key="i"><dt>{{ answer.question }}</dt><dd><template v-if="answer.files?.length"><a v-for="f in answer.files" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a></template><template v-else>{{ short(`${line.id}-${i}`, answer.text) }}</template> <button v-if="answer.text.length > LONG && !open.has(`${line.id}-${i}`)" type="button" class="more" @click="open.add(`${line.id}-${i}`)">all of it</button></dd></template>
          </dl>
          <p v-for="words in line.payload.agreed ?? []" :key="words" class="small">Agreed: “{{ words }}”</p>
          <p v-for="change in line.payload.changed" :key="change.property" class="small faded">{{ house.propertyName(change.property) }} was “{{ short(`${line.id}-${change.property}`, change.from) }}” before.</p>
        </template>
        <template v-else-if="line.kind === 'visit'">Read {{ count(line.payload.pages.length, 'page', 'pages') }} <span class="faded small">{{ cameFrom(line.payload.source) }}, {{ line.payload.device === 'other' ? 'some device' : line.payload.device }}<template v-if="line.payload.place">, {{ line.payload.place }}</template></span><VisitPages :pages="line.payload.pages" /></template>
        <template v-else-if="line.kind === 'label'">Label <b>{{ house.labelName(line.payload.to) }}</b><template v-if="line.payload.from"> instead of {{ house.labelName(line.payload.from) }}</template> <span class="faded small">{{ line.payload.because === 'point' ? 'given by the form' : `fit ${line.payload.fit}, interest ${line.payload.interest}` }}</span></template>
        <template v-else-if="line.kind === 'owner'">
          <template v-if="line.payload.by === 'plan'">Routed to <b>{{ house.memberName(line.payload.to) }}</b> <span class="faded small">lane “{{ line.payload.lane }}”, whose turn it was</span></template>
          <template v-else-if="line.payload.by === 'point'">Given to <b>{{ house.memberName(line.payload.to) }}</b> <span class="faded small">as the form “{{ line.payload.point }}” says</span></template>
          <template v-else>{{ line.actor }} gave it to <b>{{ house.memberName(line.payload.to) }}</b><template v-if="line.payload.from"> <span class="faded small">from {{ house.memberName(line.payload.from) }}</span></template></template>
        </template>
        <template v-else-if="line.kind === 'status'">{{ line.actor }} set <b>{{ house.statusName(line.payload.to) }}</b> <span class="faded small">before: {{ house.statusName(line.payload.from) }}</span></template>
        <template v-else-if="line.kind === 'note'"><span class="faded small">{{ line.actor }} noted</span><p class="said">{{ line.payload.text }}</p></template>
        <template v-else-if="line.kind === 'next_step'">
          <template v-if="line.payload.text && !line.actor">The form asks for <b>{{ line.payload.text }}</b>, {{ due(line.payload.due!) }}</template>
          <template v-else-if="line.payload.text">{{ line.actor }} will <b>{{ line.payload.text }}</b>, {{ due(line.payload.due!) }}</template>
          <template v-else>{{ line.actor }} {{ line.payload.done ? 'did' : 'took away' }} “{{ line.payload.was }}”</template>
        </template>
        <template v-else-if="line.kind === 'corrected'">
          Corrected what they sent through <b>{{ line.payload.point }}</b>
          <dl><template v-for="(answer, i) in line.payload.answers" :key="i"><dt>{{ answer.question }}</dt><dd>{{ answer.to || 'nothing' }} <span class="faded small">before: {{ answer.from || 'nothing' }}</span></dd></template></dl>
        </template>
        <template v-else-if="line.kind === 'meeting'">{{ line.payload.was ? 'Moved the meeting' : 'Chose a time to meet' }} {{ line.payload.with ? house.memberName(line.payload.with) : '' }}: <b>{{ due(line.payload.at) }}</b> <span class="faded small">{{ line.payload.minutes }} minutes<template v-if="line.payload.was">, before: {{ due(line.payload.was) }}</template></span></template>
        <template v-else-if="line.kind === 'followed'">Followed the link of a mail <span class="faded small">“{{ line.payload.subject }}”</span></template>
        <template v-else-if="line.kind === 'mailed'">{{ { confirm: 'Asked to confirm the address', meeting: 'Got the calendar file' }[line.payload.kind as string] ?? 'Got a mail from us' }} <span class="faded small">“{{ line.payload.subject }}”</span></template>
        <template v-else-if="line.kind === 'confirmed'">Confirmed that {{ line.payload.email }} is theirs</template>
        <template v-else-if="line.kind === 'claimed'">Gave the address {{ line.payload.address }} <span class="faded small">they were found by something else, so it is only claimed</span></template>
        <template v-else-if="line.kind === 'judged'">{{ line.actor }} found out that {{ line.payload.email }} is {{ line.payload.theirs ? 'theirs' : 'not theirs' }}</template>
        <template v-else-if="line.kind === 'left'">Wants no more mails from us</template>
        <template v-else-if="line.kind === 'announced'">Mailed {{ line.payload.to }} <span class="faded small">“{{ line.payload.subject }}”</span></template>
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
.file { display: block; }
.more { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; }
@media (max-width: 700px) { li { grid-template-columns: 1fr; gap: 0; } dl { grid-template-columns: 1fr; } dd { margin-bottom: 4px; } }
</style>
