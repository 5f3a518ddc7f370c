<script setup lang="ts">
const id = String(useRoute().params.id)
</script>

<template>
  <ResultsBoard :id="id" :back="{ path: '/capture/pages', name: 'Pages' }" :storyboard="`/capture/pages/${id}`" />
</template>
