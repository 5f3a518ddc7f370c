<script setup lang="ts">
import type { Question } from '#core/points/definition'
import { addBand, bandName, setInQuiz } from '#core/quiz/edit'
import { MOST_BANDS } from '#core/quiz/limits'
import type { Branch } from '#core/quiz/shapes'
import { blankInQuiz } from '#core/quiz/starters'
import type { Attribute } from '~/components/ConditionTree.vue'

/** What a question is in a quiz: whether it asks who it is, how its choices stand, bands of a number, and where it leads on. */
const question = defineModel<Question>({ required: true })
const props = defineProps<{ later: Question[]; attributes: Attribute[]; disabled: boolean }>()
const own = computed(() => question.value.quiz ?? blankInQuiz())
const set = (change: Partial<NonNullable<Question['quiz']>>) => {
  question.value = setInQuiz(question.value, change)
}
const id = computed(() => `q-${question.value.key}-quiz`)
const SHOWS = [
  { key: 'list' as const, name: 'A list' },
  { key: 'scale' as const, name: 'A row, from one end to the other' },
  { key: 'pictures' as const, name: 'Pictures' },
]
const shows = computed(() => SHOWS.filter(s => s.key !== 'scale' || question.value.kind === 'one_of'))
const chosen = computed(() => question.value.kind === 'one_of' || question.value.kind === 'some_of')
const places = computed(() => [
  { key: '', name: 'the end' },
  ...props.later.filter(q => !q.quiz?.contact).map(q => ({ key: q.key, name: q.label || q.key })),
])
const put = (n: number, change: Partial<Branch>) => set({ then: own.value.then.map((b, i) => (i === n ? { ...b, ...change } : b)) })
const fresh = (): Branch => ({ when: { all: [{ attribute: `answer.${question.value.key}`, is: 'filled' }] }, to: '' })
function end(n: number, typed: string): void {
  const upTo = Number(typed.replace(',', '.'))
  if (!typed.trim() || !Number.isFinite(upTo)) return
  const bands = own.value.bands.map((b, i) => (i === n ? { ...b, upTo } : b))
  set({ bands: [...bands].sort((a, b) => (a.upTo ?? Infinity) - (b.upTo ?? Infinity)) })
}
function picture(at: number, asset: { id: string; name: string; width: number | null; height: number | null } | null): void {
  const choices = question.value.choices.map((c, i) =>
    i === at
      ? {
          ...c,
          quiz: {
            ...(c.quiz ?? { right: false, said: '', weights: [], picture: null }),
            picture: asset && { file: { id: asset.id, name: asset.name }, width: asset.width!, height: asset.height!, alt: '' },
          },
        }
      : c,
  )
  question.value = { ...question.value, choices }
}
</script>

<template>
  <div class="in-quiz">
    <label class="tick"><Checkbox
        :model-value="own.contact"
        binary
        :input-id="`${id}-contact`"
        :disabled="disabled"
        @update:model-value="set({ contact: $event, ...($event && { then: [] }) })"
      />
      It asks who it is, and stands with the others that do</label>
    <template v-if="!own.contact">
      <template v-if="chosen">
        <label :id="`${id}-as`">Its choices stand as</label>
        <Select
          :model-value="own.as"
          :options="shows"
          option-label="name"
          option-value="key"
          fluid
          :disabled="disabled"
          :aria-labelledby="`${id}-as`"
          @update:model-value="set({ as: $event })"
        />
        <div v-for="(c, at) in own.as === 'pictures' ? question.choices : []" :key="at" class="row">
          <span class="small">{{ c.text }}</span>
          <FilePick
            :chosen="c.quiz?.picture?.file ?? null"
            picture
            :disabled="disabled"
            :called="`Picture of ${c.text}`"
            @choose="picture(at, $event)"
            @clear="picture(at, null)"
          />
        </div>
      </template>
      <template v-if="question.kind === 'number'">
        <span class="label">Bands of numbers that mean the same</span>
        <div v-for="(band, n) in own.bands" :key="band.key" class="row">
          <template v-if="band.upTo !== null">
            <label :for="`${id}-band-${n}`">up to</label>
            <InputText
              :id="`${id}-band-${n}`"
              class="short"
              size="small"
              inputmode="decimal"
              :model-value="String(band.upTo)"
              @change="end(n, ($event.target as HTMLInputElement).value)"
            />
          </template>
          <span v-else class="small">{{ bandName(own.bands, n) }}</span>
          <Button
            v-if="!disabled && band.upTo !== null"
            label="Take out"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Take the band ${bandName(own.bands, n)} out`"
            @click="set({ bands: own.bands.filter(b => b.key !== band.key) })"
          />
        </div>
        <div>
          <Button
            v-if="!disabled"
            label="Add a band"
            size="small"
            variant="text"
            :disabled="own.bands.length >= MOST_BANDS"
            @click="question = addBand(question)"
          />
        </div>
      </template>
      <label :for="`${id}-said`">Said of it with the result, whatever was answered</label>
      <InputText :id="`${id}-said`" :model-value="own.said" fluid maxlength="600" @update:model-value="set({ said: $event ?? '' })" />
      <span class="label">After it the quiz goes on with the next question</span>
      <div v-for="(branch, n) in own.then" :key="n" class="branch">
        <span class="small">but with</span>
        <Select
          size="small"
          :model-value="branch.to"
          :options="places"
          option-label="name"
          option-value="key"
          placeholder="a question that was taken out"
          :disabled="disabled"
          aria-label="Where it goes on"
          @update:model-value="put(n, { to: $event })"
        />
        <span class="small">{{ branch.when ? 'if' : 'always' }}</span>
        <ConditionTree
          v-if="branch.when"
          :model-value="branch.when"
          :attributes="attributes"
          :disabled="disabled"
          called="When it branches"
          @update:model-value="put(n, { when: $event })"
        />
        <div v-if="!disabled">
          <Button
            label="Take this branch out"
            size="small"
            variant="text"
            severity="secondary"
            @click="set({ then: own.then.filter((_, i) => i !== n) })"
          />
        </div>
      </div>
      <div>
        <Button
          v-if="!disabled"
          label="Add a branch"
          size="small"
          variant="text"
          :disabled="own.then.length >= 20"
          @click="set({ then: [...own.then, fresh()] })"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.in-quiz {
  display: grid;
  gap: 4px;
  border-top: 1px solid var(--rule);
  margin-top: 8px;
}
label,
.label {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
  margin-top: 6px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--ink);
  font-size: 15px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
.branch {
  display: grid;
  gap: 4px;
  padding: 6px 0 6px 10px;
  border-left: 2px solid var(--rule);
  justify-items: start;
}
.short {
  width: 110px;
}
</style>
