<script setup lang="ts">
import { actionOf } from '#core/actions/edit'
import { inSentences } from '#core/actions/registry'
import { announcementFor } from '#core/capture/announcement'
import type { PointDefinition } from '#core/points/definition'
import { answersInWords } from '#core/points/in-words'
import { sampleAnswers } from '#core/points/sample'

/** What the owner would be told of somebody who fills the form in: the real announcement, of a made-up person. */
const props = defineProps<{ definition: PointDefinition; name: string }>()
const house = useHouse()
const label = computed(() => actionOf(props.definition, 'label')?.label)
const done = computed(() =>
  inSentences(props.definition.actions, {
    label: house.labelName,
    member: house.memberName,
    list: id => house.words?.lists.find(l => l.id === id)?.name ?? 'a list that is gone',
    property: house.propertyName,
    value: house.valueText,
  }),
)

const told = computed(() => {
  const answers = sampleAnswers(props.definition)
  const lead = {
    firstName: 'Ines',
    lastName: 'Thornbury',
    email: 'ines.thornbury@brackwater.example',
    company: 'Brackwater School',
    ownerId: '',
  }
  return {
    ...announcementFor({
      lead,
      known: false,
      intake: { answers, point: { name: props.name }, edition: { definition: props.definition } },
    } as never),
    lines: answersInWords(props.definition.questions, answers),
  }
})
</script>

<template>
  <div class="sheet mail">
    <p class="faded small">To the owner, at once, and as a notice on their screen</p>
    <p class="subject">{{ told.subject }}</p>
    <p>{{ told.text }}</p>
    <dl><template v-for="line in told.lines" :key="line.label"><dt>{{ line.label }}</dt><dd>{{ line.text }}</dd></template></dl>
    <p class="faded small">Ines Thornbury is made up. The score decides on the
      label{{ label ? `, from ${house.labelName(label)} up` : '' }}.</p>
    <template v-if="done.length">
      <p class="faded small">Whoever completes it</p>
      <ul class="done"><li v-for="sentence in done" :key="sentence">{{ sentence }}</li></ul>
    </template>
  </div>
</template>

<style scoped>
.mail { padding: 16px 20px; display: grid; gap: 8px; max-width: 640px; }
.done { margin: 0; padding-left: 18px; font-size: 14px; line-height: 20px; }
.subject { font: 620 17px/24px var(--heading); overflow-wrap: anywhere; }
dl { display: grid; grid-template-columns: minmax(90px, 34%) 1fr; gap: 2px 14px; margin: 0; font-size: 14px; line-height: 20px; }
dt { color: var(--faded); } dd { margin: 0; overflow-wrap: anywhere; }
</style>
