<script setup lang="ts">
import { freshKey, type PointDefinition } from '#core/points/definition'
import { setQuiz } from '#core/quiz/edit'
import { MOST_TOPICS } from '#core/quiz/limits'

/** How a quiz is asked, and what is made of the answers. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const quiz = computed(() => definition.value.quiz!)
const set = (change: Parameters<typeof setQuiz>[1]) => {
  definition.value = setQuiz(definition.value, change)
}
const KINDS = [
  { key: 'outcomes' as const, name: 'It sorts people into outcomes' },
  { key: 'marks' as const, name: 'It has right answers, and marks' },
]
const CONTACT = [
  { key: 'before' as const, name: 'Just before the result' },
  { key: 'start' as const, name: 'Before the first question' },
  { key: 'after' as const, name: 'Below the result' },
]
const SHUFFLE = [
  { key: 'none' as const, name: 'As they stand here' },
  { key: 'choices' as const, name: 'Answers in an order of their own for each person' },
  { key: 'questions' as const, name: 'Questions in an order of their own for each person' },
  { key: 'both' as const, name: 'Both' },
]
const isNameless = computed(() => quiz.value.skip || quiz.value.contact === 'after')
const addTopic = () =>
  set({
    topics: [
      ...quiz.value.topics,
      {
        key: freshKey(
          'topic',
          quiz.value.topics.map(t => t.key),
        ),
        name: `Topic ${quiz.value.topics.length + 1}`,
      },
    ],
  })
function dropTopic(key: string): void {
  const d = setQuiz(definition.value, { topics: quiz.value.topics.filter(t => t.key !== key) })
  definition.value = { ...d, questions: d.questions.map(q => (q.quiz?.topic === key ? { ...q, quiz: { ...q.quiz, topic: null } } : q)) }
}
</script>

<template>
  <div>
    <fieldset class="rules" :disabled="disabled">
      <legend class="unseen">How the quiz is asked</legend>
      <label id="quiz-kind">What is made of the answers</label>
      <Select
        :model-value="quiz.kind"
        :options="KINDS"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-labelledby="quiz-kind"
        @update:model-value="set({ kind: $event })"
      />
      <label id="quiz-contact">When they say who they are</label>
      <Select
        :model-value="quiz.contact"
        :options="CONTACT"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-labelledby="quiz-contact"
        @update:model-value="set({ contact: $event })"
      />
      <label v-if="quiz.contact !== 'after'" class="tick"><Checkbox
        :model-value="quiz.skip"
        binary
        input-id="quiz-skip"
        :disabled="disabled"
        @update:model-value="set({ skip: $event })"
      />
        They may skip it, and get their result all the same</label>
      <p v-if="isNameless" class="faded small">
        Who does not say who they are becomes nobody: nothing is done for them, and of their answers only what can be chosen and numbers are
        kept, to be counted.
      </p>
      <label for="quiz-reason">Why, in a sentence above it</label>
      <InputText id="quiz-reason" :model-value="quiz.reason" fluid maxlength="600" @update:model-value="set({ reason: $event ?? '' })" />
      <label class="tick"><Checkbox
          :model-value="quiz.single"
          binary
          input-id="quiz-single"
          :disabled="disabled"
          @update:model-value="set({ single: $event })"
        />
        One question at a time</label>
      <label class="tick"><Checkbox
          :model-value="quiz.progress"
          binary
          input-id="quiz-progress"
          :disabled="disabled"
          @update:model-value="set({ progress: $event })"
        />
        People see how far they are</label>
      <label class="tick"><Checkbox :model-value="quiz.back" binary input-id="quiz-back" :disabled="disabled" @update:model-value="set({ back: $event })" />
        They may go back</label>
      <label id="quiz-shuffle">In which order</label>
      <Select
        :model-value="quiz.shuffle"
        :options="SHUFFLE"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-labelledby="quiz-shuffle"
        @update:model-value="set({ shuffle: $event })"
      />
      <p v-if="quiz.shuffle === 'questions' || quiz.shuffle === 'both'" class="faded small">
        Questions that conditions or branches speak of keep their places.
      </p>
      <template v-if="quiz.kind === 'marks'">
        <label class="tick"><Checkbox
            :model-value="quiz.partial"
            binary
            input-id="quiz-partial"
            :disabled="disabled"
            @update:model-value="set({ partial: $event })"
          />
          Of several right answers each counts a part, less what is ticked wrongly</label>
        <h2>Topics</h2>
        <p class="faded small">Marks are counted by topic, too, and people see how they did in each.</p>
        <div v-for="topic in quiz.topics" :key="topic.key" class="topic">
          <InputText
            :model-value="topic.name"
            size="small"
            fluid
            maxlength="80"
            :aria-label="`Name of ${topic.name}`"
            @change="
              set({
                topics: quiz.topics.map(t =>
                  t.key === topic.key ? { ...t, name: ($event.target as HTMLInputElement).value.trim() || t.name } : t,
                ),
              })
            "
          />
          <Button
            label="Take out"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Take ${topic.name} out`"
            @click="dropTopic(topic.key)"
          />
        </div>
        <div>
          <Button
            v-if="!disabled"
            label="Add a topic"
            size="small"
            variant="outlined"
            :disabled="quiz.topics.length >= MOST_TOPICS"
            @click="addTopic"
          />
        </div>
      </template>
    </fieldset>
    <QuizDescribedPeople v-if="quiz.kind === 'outcomes'" v-model="definition" :disabled="disabled" />
  </div>
</template>

<style scoped>
.rules {
  margin: 0;
  padding: 0;
  border: 0;
  display: grid;
  gap: 4px;
  min-width: 0;
}
label {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
  margin-top: 6px;
}
h2 {
  margin-top: 14px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--ink);
  font-size: 15px;
  line-height: 22px;
}
.topic :deep(.p-button) {
  flex: none;
}
.topic {
  display: flex;
  gap: 6px;
}
</style>
