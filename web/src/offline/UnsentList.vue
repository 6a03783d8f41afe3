<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import RefusalNote from '../ui/RefusalNote.vue'
import { connection } from './connection'
import { held, unsent } from './held'
import { home } from './home'

// What the server does not have yet, job by job.
const jobs = computed(() => held.all.value.filter((job) => unsent(job) > 0))
const bringing = home.bringing
</script>

<template>
  <section v-if="home.unwelcome.value" class="note note-wrong" role="alert">{{ $t('unsent-unwelcome') }}</section>
  <section v-if="jobs.length" class="stack tight" data-testid="unsent">
    <h2>{{ $t('unsent-not-sent-yet') }}</h2>
    <ul class="list">
      <li v-for="job in jobs" :key="job.id">
        <RouterLink :to="{ name: 'job', params: { job: job.id } }">{{ job.name }}</RouterLink>
        <span class="quiet">{{ job.owner }}</span>
        <span class="figure push">{{ $t('unsent-no-entries', { no: unsent(job) }) }}</span>
      </li>
    </ul>
    <p v-if="bringing" role="status">
      {{ $t('unsent-sending', { job: bringing.job, at: bringing.done + 1, of: bringing.of }) }}
    </p>
    <p v-else-if="!connection.answers.value" class="quiet" role="status">{{ $t('unsent-waits-for-the-server') }}</p>
    <RefusalNote :failure="home.trouble.value" />
    <div>
      <Button
        type="button"
        :class="connection.answers.value ? 'btn-next' : ''"
        :disabled="Boolean(bringing)"
        @click="home.bringAll()"
        >{{ $t('unsent-send-now') }}</Button
      >
    </div>
  </section>
</template>

<style scoped>
.list li {
  display: flex;
  gap: 0.6rem;
  align-items: baseline;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.35rem 0;
}
.push {
  margin-left: auto;
}
</style>
