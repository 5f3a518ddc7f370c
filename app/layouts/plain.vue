<template>
  <div>
    <main id="main"><slot /></main>
    <SayCorner />
  </div>
</template>
