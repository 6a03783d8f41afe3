<template>
  <main id="main" class="nowhere stack">
    <h1>{{ $t('nowhere-there-is-nothing-at-this') }}</h1>
    <p>
      <RouterLink :to="{ name: 'home' }">{{ $t('job-to-the-scales') }}</RouterLink>
    </p>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 3rem 1.25rem;
}
</style>
