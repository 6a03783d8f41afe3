<template>
  <p class="key small quiet">
    <span
      ><svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
        <circle cx="6" cy="6" r="4.5" class="hollow" />
      </svg>
      {{ $t('error-chart-key-as-found') }}</span
    >
    <span
      ><svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
        <circle cx="6" cy="6" r="5" class="filled" />
      </svg>
      {{ $t('error-chart-key-as-left') }}</span
    >
    <span
      ><svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
        <path d="M0 1h12l-6 10z" class="filled" />
      </svg>
      {{ $t('error-chart-key-coming-down') }}</span
    >
    <span
      ><svg viewBox="0 0 16 12" width="16" height="12" aria-hidden="true">
        <path d="M0 1h16v10H0z" class="shadow" />
      </svg>
      {{ $t('error-chart-key-tolerance') }}</span
    >
  </p>
</template>

<style scoped>
.key {
  display: flex;
  gap: 1.1rem;
  flex-wrap: wrap;
}
.hollow {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.8;
}
.filled {
  fill: var(--ink);
}
.shadow {
  fill: var(--shade);
}
</style>
