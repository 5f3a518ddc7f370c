<script setup lang="ts">
import { Redo2, Undo2 } from 'lucide-vue-next'
import type { PointView } from '#core/team'

/** Over an editor: its name, what is live, what is saved, who else is here, and the acts. */
const name = defineModel<string>('name', { required: true })
defineProps<{
  back: { path: string; name: string }
  live: number | null
  changed: boolean
  state: string
  company: string[]
  mayEdit: boolean
  mayUndo: boolean
  mayRedo: boolean
  mayPublish: boolean
  publishing: boolean
  problem: string
  conflict: string
  others: string
  /** Where its results stand. */
  results: string
  /** When it goes live by itself. */
  going: PointView['goingLive']
  revision: number
}>()
const emit = defineEmits<{ undo: []; redo: []; publish: []; seen: []; plan: [at: string | null] }>()
const house = useHouse()
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
    <header class="head">
      <div class="names">
        <NuxtLink :to="back.path">{{ back.name }}</NuxtLink><NuxtLink :to="results" class="results">Results</NuxtLink>
        <h1>
          <input v-model="name" aria-label="Name among yourselves" maxlength="120" :disabled="!mayEdit" :size="Math.max(8, name.length)">
        </h1>
      </div>
      <p class="state" role="status">
        <span>
          <template v-if="live">Edition {{ live }} is
            live<template v-if="changed">, <b class="honey">what you see here is not live yet</b></template>
          </template>
          <template v-else>Not live</template>.</span>
        <span v-if="going && !going.flaw">It goes live
          {{ due(going.at) }}<template v-if="going.revision !== revision">, <b class="honey">without what was changed since</b>
          </template>.</span>
        <span v-if="mayEdit" :class="state === 'failed' ? 'brick' : 'faded'">{{ STATES[state] }}</span>
        <span v-for="who in company" :key="who" class="faded">{{ house.memberName(who) }} is here too.</span>
      </p>
      <div v-if="mayEdit" class="acts">
        <Button
          v-tooltip.bottom="'Undo (Ctrl+Z)'"
          variant="text"
          severity="secondary"
          aria-label="Undo"
          :disabled="!mayUndo"
          @click="emit('undo')"
        >
          <Undo2 :size="17" aria-hidden="true" />
        </Button>
        <Button
          v-tooltip.bottom="'Redo (Ctrl+Y)'"
          variant="text"
          severity="secondary"
          aria-label="Redo"
          :disabled="!mayRedo"
          @click="emit('redo')"
        >
          <Redo2 :size="17" aria-hidden="true" />
        </Button>
        <slot />
        <StoryboardGoingLive :going="going" :may="mayPublish" :busy="publishing" @plan="emit('plan', $event)" />
        <Button label="Make it live" :disabled="!mayPublish" :loading="publishing" @click="emit('publish')" />
      </div>
    </header>
    <p v-if="name.length >= 120" class="banner" role="status">A name ends at 120 characters.</p>
    <p v-if="going?.flaw" class="banner" role="alert">It was to go live by itself {{ due(going.at) }}, and could not: {{ going.flaw }}
      <Button v-if="mayEdit" label="Take the plan back" size="small" variant="text" @click="emit('plan', null)" />
    </p>
    <p v-if="problem" class="banner" role="alert">{{ problem }}</p>
    <p v-if="conflict" class="banner" role="alert">
      {{ conflict }} <Button label="I have seen it" size="small" variant="text" @click="emit('seen')" />
    </p>
    <p v-if="!mayEdit" class="banner">You can look at {{ others }}; marketers change them.</p>
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; align-items: end; gap: 4px 18px; padding-bottom: 10px; }
.names { min-width: 0; }
.names a { display: inline-block; padding: 2px 0; }
.names .results { margin-left: 16px; }
h1 input { font: inherit; color: inherit; background: none; border: 0; border-bottom: 1px dashed transparent; padding: 0; max-width: 46vw; field-sizing: content; }
h1 input:hover:enabled, h1 input:focus { border-bottom-color: var(--rule); }
.state { display: flex; flex-wrap: wrap; gap: 2px 12px; flex: 1; padding-bottom: 3px; }
.honey { color: var(--honey); font-weight: 560; }
.acts { display: flex; gap: 6px; align-items: center; }
.banner { padding: 8px 12px; margin-bottom: 8px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
@media (max-width: 980px) { h1 input { max-width: 88vw; } }
</style>
