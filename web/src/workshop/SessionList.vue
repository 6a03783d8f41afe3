<script setup lang="ts">
import Button from 'primevue/button'
import { endSession, useSessions } from '../api/people'
import { useTried } from '../state/tried'
import { momentText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import { vCards } from '../ui/cards'

// Open sessions: one's own, or everybody's for a manager.
const props = defineProps<{ all: boolean }>()
const { data } = useSessions(() => props.all)
const { failure, tried } = useTried()
</script>

<template>
  <section aria-labelledby="sessions">
    <h2 id="sessions">{{ $t('session-list-signed-in-now') }}</h2>
    <table v-if="data?.length" v-cards>
      <thead>
        <tr>
          <th v-if="all" scope="col">{{ $t('common-who') }}</th>
          <th scope="col">{{ $t('session-list-since') }}</th>
          <th scope="col">{{ $t('session-list-last-used') }}</th>
          <th scope="col">{{ $t('common-from') }}</th>
          <th scope="col">{{ $t('session-list-browser') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in data" :key="s.id">
          <td v-if="all">{{ s.person }}</td>
          <td class="figure">{{ momentText(s.since) }}</td>
          <td class="figure">{{ momentText(s.seen_at) }}</td>
          <td class="figure">{{ s.from }}</td>
          <td class="small browser">{{ s.browser || '–' }}</td>
          <td>
            <span v-if="s.own" class="quiet own">{{ $t('session-list-this-one') }}</span><Button
              v-else
              type="button"
              :aria-label="$t('session-list-end-the-session-of-person', { person: s.person })"
              @click="tried(() => endSession(s.id))"
              >{{ $t('session-list-end-session') }}</Button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <RefusalNote :failure="failure" />
  </section>
</template>

<style scoped>
th,
td {
  text-align: left;
  padding: 0.35rem 1.2rem 0.35rem 0;
}
.own {
  white-space: nowrap;
}
.browser {
  max-width: 18rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
