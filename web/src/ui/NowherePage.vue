<template>
  <main id="main" class="nowhere stack">
    <h1>There is nothing at this address</h1>
    <p><RouterLink :to="{ name: 'home' }">To the scales</RouterLink></p>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 3rem 1.25rem;
}
</style>
