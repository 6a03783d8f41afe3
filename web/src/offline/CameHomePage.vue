<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, settled } from '../api/client'
import type { Schema } from '../api/types'
import { momentText } from '../ui/format'

// What came home, and what became of it. A job that came in several times stands here once.
const { data, error } = useQuery({
  queryKey: ['came-home'],
  queryFn: () => settled(api.GET('/api/offline/home')),
})
type Came = Schema<'HomeReply'> & { parts: string[] }
const jobs = computed(() => {
  const all = new Map<string, Came>()
  for (const h of data.value ?? []) {
    const known = all.get(h.job)
    if (known) {
      known.taken += h.taken
      known.notes = [
        ...known.notes,
        ...h.notes.filter((n) => !known.notes.some((k) => String(k.says) === String(n.says))),
      ]
      known.left = [...known.left, ...h.left]
      if (h.left.length) known.parts.push(h.id)
    } else all.set(h.job, { ...h, parts: h.left.length ? [h.id] : [] })
  }
  return [...all.values()]
})
</script>

<template>
  <main id="main" class="home stack">
    <h1>{{ $t('along-what-came-home') }}</h1>
    <p class="quiet">{{ $t('came-home-what-this-is') }}</p>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="data && !data.length" class="quiet">{{ $t('came-home-nothing-yet') }}</p>
    <article v-for="h in jobs" :key="h.job" class="came">
      <h2>
        <RouterLink :to="{ name: h.number ? 'record' : 'job', params: { job: h.job } }">{{ h.scale_name }}</RouterLink>
        <span class="quiet rest">{{ h.owner }}</span>
        <span v-if="h.number" class="figure push">{{ h.number }}</span>
      </h2>
      <p class="small quiet">
        {{ $t('came-home-at-by-device', { at: momentText(h.at), person: h.person, device: h.device }) }}
      </p>
      <p>{{ h.taken ? $t('came-home-taken', { taken: h.taken }) : $t('came-home-known', { known: h.known }) }}</p>
      <p
        v-for="n in h.notes"
        :key="String(n.says)"
        class="note"
        :class="{ 'note-caution': n.serious }"
        data-testid="home-note"
      >
        {{ n.says }}
      </p>
      <template v-if="h.left.length">
        <ul class="left">
          <li v-for="(line, n) in h.left" :key="n">{{ line }}</li>
        </ul>
        <a
          v-for="id in h.parts"
          :key="id"
          class="btn"
          :href="`/api/offline/home/${id}/left`"
          :download="`left-${id}.json`"
          >{{ $t('came-home-save-what-was-left') }}</a
        >
      </template>
    </article>
  </main>
</template>

<style scoped>
.home {
  padding: 1rem 1.25rem 2rem;
  max-width: 60rem;
}
.came {
  border-top: 2px solid var(--ink);
  padding-top: 0.5rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.came h2 {
  display: flex;
  gap: 0.7rem;
  align-items: baseline;
  flex-wrap: wrap;
}
.rest {
  font-weight: 500;
  font-size: 1rem;
}
.push {
  margin-left: auto;
}
.left {
  border-left: 3px solid var(--caution);
  padding-left: 0.8rem;
}
.came .btn {
  align-self: flex-start;
}
</style>
