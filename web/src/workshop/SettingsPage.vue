<script setup lang="ts">
// Everything that a workshop settles once, in one place.
const groups = [
  {
    title: 'Judging',
    links: [
      {
        to: 'judgement',
        label: 'Fault likelihoods',
        says: 'how likely each cause is before anything is read, and when a scale is left alone',
      },
      {
        to: 'weights',
        label: 'Span weight rule and own classes',
        says: 'how much span weight is asked for, and tolerances of classes of your own; in the kit',
      },
    ],
  },
  {
    title: 'Indicators',
    links: [{ to: 'profiles', label: 'Profiles', says: 'how each indicator is keyed' }],
  },
  {
    title: 'Paper',
    links: [
      {
        to: 'paper',
        label: 'Certificates & letterhead',
        says: 'name, address, language, what stands on a certificate, who approves',
      },
      { to: 'dcc', label: 'Read a digital certificate', says: 'what a certificate of another laboratory says' },
    ],
  },
  {
    title: 'The workshop',
    links: [
      {
        to: 'me',
        label: 'Your account',
        says: 'your name on records, password, second factor, tokens, where you are signed in',
      },
      { to: 'people', label: 'People', says: 'who works here, as what; invitations; who is signed in' },
      {
        to: 'intake',
        label: 'Import a table',
        says: 'customers, scales, weights and earlier results, from CSV or XLSX',
      },
      { to: 'audit', label: 'Audit trail', says: 'who did what that others rest on' },
      { to: 'archive', label: 'Archive', says: 'everything of this workshop as one file, out and in' },
      { to: 'figures', label: 'Statistics', says: 'how scales were found, by month, kind and age' },
    ],
  },
]
</script>

<template>
  <main id="main" class="settings stack">
    <h1>Settings</h1>
    <p class="quiet lead">
      The tolerance and the decision rule belong to each scale: they stand on its sheet, and a job can choose others
      with a reason.
    </p>
    <section v-for="g in groups" :key="g.title">
      <h2>{{ g.title }}</h2>
      <ul>
        <li v-for="l in g.links" :key="l.to">
          <RouterLink :to="{ name: l.to }">{{ l.label }}</RouterLink> <span class="quiet small">{{ l.says }}</span>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
.settings {
  padding: 1rem 1.25rem 2rem;
  max-width: 56rem;
}
.lead {
  max-width: 44rem;
}
li {
  display: flex;
  gap: 1rem;
  align-items: baseline;
  min-height: var(--target);
  border-bottom: 1px solid var(--rule-2);
}
li a {
  min-width: 17rem;
}
@media (max-width: 40rem) {
  li {
    flex-direction: column;
    gap: 0;
    padding: 0.4rem 0;
  }
}
</style>
