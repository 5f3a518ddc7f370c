<script setup lang="ts">
import type { Act, ReadPage } from '#core/trail/visits'

/** The pages of a visit at a glance: how long each was read, how far down, and what was done there. */
const props = defineProps<{ pages: ReadPage[] }>()
const points = usePointNames()
const open = ref(false)
const FEW = 4
const shown = computed(() => (open.value ? props.pages : props.pages.slice(0, FEW)))
const REACHED = { seen: 'saw', started: 'began', left: 'began and left', finished: 'filled in' }
function told(act: Act): string {
  if (act.kind === 'point')
    return `${REACHED[act.reached]} “${points.value.get(act.point) ?? act.point}”${act.reached === 'left' && act.question ? `, at ${act.question.replace(/_/g, ' ')}` : ''}`
  const more = act.properties
    ? ` (${Object.entries(act.properties)
        .map(([k, v]) => `${k} ${v}`)
        .join(', ')})`
    : ''
  return { mark: `clicked “${act.name}”`, file: `fetched ${act.name}`, event: `${act.name}${more}` }[act.kind]
}
</script>

<template>
  <ol class="read">
    <li v-for="(p, i) in shown" :key="i">
      <span class="depth" :title="`Scrolled to ${p.depth}%`"><i :style="{ height: `${Math.max(4, p.depth)}%` }" /></span>
      <span>{{ p.title || p.path }}</span>
      <span v-if="p.seconds" class="faded small">{{ duration(p.seconds) }}<template v-if="p.depth">, {{ p.depth }}% down</template></span>
      <span v-for="(act, n) in p.acts" :key="n" class="act small" :class="[act.kind, act.kind === 'point' ? act.reached : '']">
        {{ told(act) }}
      </span>
    </li>
    <li v-if="pages.length > FEW">
      <button type="button" class="more small" @click="open = !open">{{ open ? 'Fewer' : `${pages.length - FEW} more` }}</button>
    </li>
  </ol>
</template>

<style scoped>
.read { list-style: none; margin: 2px 0 0; padding: 0; display: grid; gap: 1px; }
li { display: flex; flex-wrap: wrap; gap: 1px 8px; align-items: baseline; }
.depth { align-self: center; position: relative; width: 5px; height: 14px; background: var(--rule); }
.depth i { position: absolute; inset: 0 0 auto; background: var(--slate); }
.act { padding-left: 7px; border-left: 2px solid var(--rule); }
.act.finished { border-color: var(--spruce); } .act.left { border-color: var(--honey-mark); }
.more { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; }
.more:focus-visible { outline: 3px solid var(--spruce); outline-offset: 2px; }
</style>
