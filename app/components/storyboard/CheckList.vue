<script setup lang="ts" generic="C extends { level: 'stop' | 'hint'; field: string; message: string; mend?: { name: string } }">
/** What is wrong or doubtful, each leading to its spot, with a way to mend it. */
defineProps<{ checks: C[]; mayEdit: boolean }>()
const emit = defineEmits<{ go: [check: C]; mend: [check: C] }>()
</script>

<template>
  <ul v-if="checks.length" class="checks" aria-label="Checks">
    <li v-for="check in checks" :key="check.field + check.message" :class="check.level">
      <button type="button" class="say" @click="emit('go', check)">
        <b>{{ check.level === 'stop' ? 'Stops' : 'Hint' }}</b> {{ check.message }}
      </button>
      <Button v-if="check.mend && mayEdit" :label="check.mend.name" size="small" variant="text" @click="emit('mend', check)" />
    </li>
  </ul>
</template>

<style scoped>
.checks { list-style: none; margin: 0 0 10px; padding: 0; font-size: 13.5px; line-height: 19px; }
.checks li { display: flex; gap: 6px; align-items: center; border-left: 3px solid var(--honey-mark); margin-bottom: 3px; background: var(--sheet); }
.checks .stop { border-left-color: var(--brick); }
.checks .stop b { color: var(--brick); } .checks .hint b { color: var(--honey); }
.say { flex: 1; font: inherit; color: inherit; text-align: left; background: none; border: 0; padding: 4px 8px; cursor: pointer; }
.say:hover { text-decoration: underline; }
.checks .p-button { flex: none; }
</style>
