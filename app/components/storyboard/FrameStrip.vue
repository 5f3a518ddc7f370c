<script setup lang="ts">
/** The frames of a storyboard in a row: each a small picture, a title, and the checks that hang on it. */
interface Frame {
  key: string
  title: string
  checks: { level: 'stop' | 'hint' }[]
}
defineProps<{ frames: Frame[]; inHand: string }>()
const emit = defineEmits<{ take: [key: string] }>()
const LEVELS = ['stop', 'hint'] as const
</script>

<template>
  <nav class="strip" aria-label="Storyboard">
    <button
      v-for="frame in frames"
      :key="frame.key"
      type="button"
      class="frame"
      :class="{ on: frame.key === inHand }"
      :aria-current="frame.key === inHand ? 'step' : undefined"
      @click="emit('take', frame.key)"
    >
      <span class="small-picture" aria-hidden="true"><slot :frame="frame.key" /></span>
      <span class="title">{{ frame.title }}</span>
      <span v-if="frame.checks.length" class="marks">
        <template v-for="level in LEVELS" :key="level">
          <span v-if="frame.checks.some(c => c.level === level)" :class="level">
            {{ count(frame.checks.filter(c => c.level === level).length, level, `${level}s`) }}
          </span>
        </template>
      </span>
    </button>
  </nav>
</template>

<style scoped>
.strip { display: flex; align-items: flex-start; gap: 0; overflow-x: auto; padding: 2px 2px 12px; border-bottom: 1px solid var(--rule); }
.frame { position: relative; flex: none; width: 156px; margin-right: 26px; padding: 0; border: 0; background: none; font: inherit; color: inherit; text-align: left; cursor: pointer; border-radius: 3px; }
.frame:not(:last-child)::after { content: ''; position: absolute; left: calc(100% + 4px); top: 41px; width: 18px; border-top: 1px solid var(--faded); }
.small-picture { display: block; position: relative; height: 84px; overflow: hidden; background: #e9e6dc; border: 1px solid var(--rule); border-radius: 3px; }
.small-picture :slotted(div) { position: absolute; top: 6px; left: 50%; width: 460px; transform: translateX(-50%) scale(0.29); transform-origin: top center; pointer-events: none; }
.small-picture :slotted(.broad) { top: 0; width: 1100px; transform: translateX(-50%) scale(0.142); }
.small-picture :slotted(.words) { display: block; padding: 14px 10px; font-size: 12.5px; line-height: 18px; color: #3c4849; overflow-wrap: anywhere; }
.on .small-picture { border-color: var(--spruce); box-shadow: inset 0 -3px 0 var(--spruce); }
.title { display: block; margin-top: 5px; font-size: 13.5px; line-height: 18px; }
.on .title { color: var(--spruce); font-weight: 620; }
.marks { display: flex; gap: 8px; font-size: 12.5px; line-height: 16px; }
.marks span { padding-left: 6px; border-left: 3px solid var(--honey-mark); color: var(--honey); }
.marks .stop { border-left-color: var(--brick); color: var(--brick); }
</style>
