<script setup lang="ts">
import { say } from '../words'
// Everything that a workshop settles once, in one place.
const groups = [
  {
    title: say('settings-judging'),
    links: [
      {
        to: 'priors',
        label: say('fault-likelihoods-fault-likelihoods'),
        says: say('settings-how-likely-each-cause-is'),
      },
      {
        to: 'weights',
        label: say('settings-span-weight-rule-and-own'),
        says: say('settings-how-much-span-weight-is'),
      },
    ],
  },
  {
    title: say('settings-indicators'),
    links: [{ to: 'profiles', label: say('common-profiles'), says: say('settings-how-each-indicator-is-keyed') }],
  },
  {
    title: say('records-paper'),
    links: [
      {
        to: 'letterhead',
        label: say('settings-certificates-letterhead'),
        says: say('settings-name-address-language-what-stands'),
      },
      {
        to: 'dcc',
        label: say('common-read-a-digital-certificate'),
        says: say('settings-what-a-certificate-of-another'),
      },
    ],
  },
  {
    title: say('settings-the-workshop'),
    links: [
      {
        to: 'me',
        label: say('common-your-account'),
        says: say('settings-your-name-on-records-password'),
      },
      { to: 'people', label: say('common-people'), says: say('settings-who-works-here-as-what') },
      {
        to: 'intake',
        label: say('common-import-a-table'),
        says: say('settings-customers-scales-weights-and-earlier'),
      },
      { to: 'audit', label: say('common-audit-trail'), says: say('settings-who-did-what-that-others') },
      { to: 'archive', label: say('settings-archive'), says: say('settings-everything-of-this-workshop-as') },
      { to: 'statistics', label: say('settings-statistics'), says: say('settings-how-scales-were-found-by') },
    ],
  },
]
</script>

<template>
  <main id="main" class="settings stack">
    <h1>{{ $t('common-settings') }}</h1>
    <p class="quiet lead">
      {{ $t('settings-the-tolerance-and-the-decision') }}
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
