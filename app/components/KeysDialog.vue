<script setup lang="ts">
const visible = defineModel<boolean>('visible', { required: true })
const KEYS = [
  ['0', 'Today'],
  ...STAGES.map(s => [s.key, s.name]),
  ['/', 'Find somebody'],
  ['j  k', 'Down and up a list'],
  ['Enter', 'Open what is chosen'],
  ['e', 'Status'],
  ['s', 'Next step'],
  ['n', 'Note'],
  ['a', 'Owner'],
  ['m', 'Write a mail'],
  ['c  r', 'Called, reached'],
  ['c  n', 'Called, not reached'],
  ['c  m', 'Called, left a message'],
  ['x', 'Choose one of several'],
  ['l  r', 'Let in, refuse'],
  ['o  t', 'One person, two people'],
  ['?', 'This list'],
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
</style>
