<script setup lang="ts">
// Mails of earlier days lead here.
definePageMeta({ redirect: '/qualify/review' })
</script>

<template><div /></template>
