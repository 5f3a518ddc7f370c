<script setup lang="ts" generic="D extends object">
import { Redo2, Undo2 } from 'lucide-vue-next'
import type { useEditing } from '~/composables/editing'

/** The head of what is worked on as a copy until it is made live: where it stands, undo, earlier editions, and going live. */
interface Worked {
  name: string
  workingCopy: D
  revision: number
  live: { number: number; definition: D; madeAt: string; madeBy: string | null } | null
  editions: { number: number; madeAt: string; madeBy: string | null }[]
  checks: { level: 'stop' | 'hint'; place: string; message: string }[]
}
const props = defineProps<{
  title: string
  edit: ReturnType<typeof useEditing<D, Worked>>
  /** Where editions are fetched: `/api/team/scorecard`. */
  at: string
  mayEdit: boolean
  /** What it means that none is live. */
  none: string
  /** Who cannot change it reads this. */
  looks: string
  /** Said when an edition went live. */
  went: (number: number) => string
}>()
const { done } = useToasts()
const { problem, conflict } = props.edit
const view = computed(() => props.edit.point.value)
const definition = computed(() => props.edit.definition.value as D | null)
/** What differs from what is live. */
const isChanged = computed(() => JSON.stringify(definition.value) !== JSON.stringify(view.value?.live?.definition ?? null))
/** Checks are of what was kept last; while something is being saved they may be of a moment before. */
const stops = computed(() => view.value?.checks.filter(c => c.level === 'stop') ?? [])
const whole = computed(() => view.value?.checks.filter(c => c.place === '') ?? [])
const isReady = computed(() => isChanged.value && stops.value.length === 0 && props.edit.state.value === 'saved')
watch(
  () => props.edit.state.value,
  (now, before) => {
    if (now === 'saved' && before === 'saving') void props.edit.load()
  },
)
const publishing = ref(false)
async function makeLive(): Promise<void> {
  publishing.value = true
  try {
    await props.edit.publish()
    if (view.value?.live) done(props.went(view.value.live.number))
  } catch (error) {
    problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
    await props.edit.load()
  } finally {
    publishing.value = false
  }
}
/** An earlier edition becomes the working copy, as one step that can be undone. */
async function goBack(number: number): Promise<void> {
  try {
    const earlier = await api<{ definition: D }>(`${props.at}/editions/${number}`)
    props.edit.replace(earlier.definition)
    done(`This is edition ${number} again. Make it live when it is right.`)
  } catch (error) {
    problem.value = (error as Error).message
  }
}
const editions = computed(
  () =>
    view.value?.editions
      .slice(isChanged.value ? 0 : 1)
      .map(e => ({ value: e.number, text: `Edition ${e.number}, ${ago(e.madeAt)}${e.madeBy ? `, by ${e.madeBy}` : ''}` })) ?? [],
)
const STATES: Record<string, string> = {
  saved: 'All saved',
  changed: 'Saving …',
  saving: 'Saving …',
  failed: 'Not saved',
  fetching: '',
  missing: '',
}
</script>

<template>
  <div>
    <div class="head">
      <h1>{{ title }}</h1>
      <p v-if="view" class="state" role="status">
        <span>
          <template v-if="view.live">Edition {{ view.live.number }}, live since {{ ago(view.live.madeAt) }}</template>
          <template v-else>{{ none }}</template>
          <template v-if="view.live && isChanged">, <b class="honey">what you see here is not live yet</b></template>.</span>
        <slot name="state" />
        <span v-if="mayEdit && view.revision" :class="edit.state.value === 'failed' ? 'brick' : 'faded'">
          {{ STATES[edit.state.value] }}
        </span>
      </p>
      <div v-if="mayEdit && definition" class="acts">
        <Button variant="text" severity="secondary" aria-label="Undo" :disabled="!edit.mayUndo.value" @click="edit.undo()">
          <Undo2 :size="17" aria-hidden="true" />
        </Button>
        <Button variant="text" severity="secondary" aria-label="Redo" :disabled="!edit.mayRedo.value" @click="edit.redo()">
          <Redo2 :size="17" aria-hidden="true" />
        </Button>
        <Select
          v-if="editions.length"
          :model-value="null"
          :options="editions"
          option-label="text"
          option-value="value"
          placeholder="Go back to …"
          size="small"
          aria-label="Go back to an edition"
          @update:model-value="goBack"
        />
        <slot name="acts" :is-ready="isReady" />
        <Button label="Make it live" :disabled="!isReady" :loading="publishing" @click="makeLive" />
      </div>
    </div>
    <p v-if="problem" role="alert" class="banner">{{ problem }}</p>
    <p v-if="conflict" role="alert" class="banner">
      {{ conflict }} <Button label="I have seen it" size="small" variant="text" @click="conflict = ''" />
    </p>
    <p v-if="view && !mayEdit" class="banner">{{ looks }}</p>
    <ul v-if="whole.length" class="whole">
      <li v-for="c in whole" :key="c.message" :class="c.level === 'stop' ? 'brick' : 'honey'">{{ c.message }}</li>
    </ul>
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; gap: 4px 18px; align-items: end; }
.state { display: flex; flex: 1; flex-wrap: wrap; gap: 2px 12px; margin: 0; padding-bottom: 3px; }
.acts { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; }
.honey { color: var(--honey); }
.whole { margin: 0 0 8px; padding-left: 18px; }
</style>
