<script setup lang="ts">
const id = String(useRoute().params.id)
</script>

<template>
  <ResultsBoard :id="id" :back="{ path: '/capture/points', name: 'Forms, quizzes and chats' }" :storyboard="`/capture/points/${id}`" />
</template>
