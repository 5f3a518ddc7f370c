<script setup lang="ts">
const visible = defineModel<boolean>('visible', { required: true })
const KEYS = [
  ['0', 'Today'], ...STAGES.map(s => [s.key, s.name]), ['/', 'Find somebody'], ['j  k', 'Down and up a list'], ['Enter', 'Open what is chosen'],
  ['e', 'Status'], ['s', 'Next step'], ['n', 'Note'], ['a', 'Owner'], ['?', 'This list'],
]
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Keys" dismissable-mask>
    <dl><template v-for="[key, what] in KEYS" :key="key"><dt><kbd>{{ key }}</kbd></dt><dd>{{ what }}</dd></template></dl>
  </Dialog>
</template>

<style scoped>
dl { display: grid; grid-template-columns: auto 1fr; gap: 6px 18px; margin: 0; min-width: 240px; }
dd { margin: 0; }
kbd { font: 600 13px/20px var(--text); border: 1px solid var(--rule); border-bottom-width: 2px; padding: 0 7px; border-radius: 3px; white-space: pre; }
</style>
