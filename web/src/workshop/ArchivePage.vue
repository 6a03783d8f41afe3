<script setup lang="ts">
import Button from 'primevue/button'
import { computed, watch } from 'vue'
import { beginExport, beginImport, callOff, useTasks } from '../api/archive'
import { queryClient } from '../api/queries'
import type { TaskView } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { momentText, percent } from '../ui/format'

// The whole workshop as one file, out and in. It goes on while the page is elsewhere.
const { data } = useTasks()
const { failure, busy: sending, tried } = useTried()
const works = computed(() => session.has('technician'))
const running = computed(() => data.value?.some((t) => t.state === 'running') ?? false)
const share = (t: TaskView) => percent(t.total ? t.done / t.total : 0)
// What came in is on every other page too.
watch(running, (now, before) => {
  if (before && !now) void queryClient.invalidateQueries()
})

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) void tried(() => beginImport(file))
}
</script>

<template>
  <main id="main" class="archive stack">
    <h1>{{ $t('router-archive-of-this-workshop') }}</h1>
    <p class="quiet lead">
      {{ $t('archive-one-file-with-every-scale') }}
    </p>
    <div v-if="works" class="row">
      <Button type="button" class="btn-next" :disabled="running || sending" @click="tried(beginExport)">{{
        $t('archive-write-the-archive')
      }}</Button>
      <label class="btn" :class="{ off: running || sending }"
        >{{ $t('archive-take-an-archive-in')
        }}<input
          class="sr-only"
          type="file"
          accept=".zip,application/zip"
          :disabled="running || sending"
          @change="picked"
      /></label>
      <span v-if="sending" class="quiet" role="status">{{ $t('archive-sending') }}</span>
    </div>
    <RefusalNote :failure="failure" />
    <ul v-if="data?.length" class="tasks">
      <li v-for="t in data" :key="t.id">
        <strong>{{ t.kind === 'export' ? $t('archive-written') : $t('archive-taken-in') }}</strong>
        <span class="small quiet">{{ momentText(t.begun_at) }}</span>
        <template v-if="t.state === 'running'">
          <progress :value="t.done" :max="t.total || 1" :aria-label="`${share(t)} %`"></progress>
          <span class="figure" role="status">{{
            $t('archive-done-of-total-jobs', { done: t.done, total: t.total || '…' })
          }}</span>
          <button v-if="works" type="button" class="btn" @click="tried(() => callOff(t.id))">
            {{ $t('archive-call-it-off') }}
          </button>
        </template>
        <template v-else-if="t.state === 'done'">
          <span>{{ t.says }}</span>
          <a v-if="t.kind === 'export'" class="btn" :href="`/api/archive/${t.id}/file`" download>{{
            $t('archive-keep-the-file')
          }}</a>
        </template>
        <span v-else-if="t.state === 'cancelled'">{{ $t('archive-called-off-nothing-was-in', { kind: t.kind }) }}</span>
        <span v-else class="wrong" role="alert">{{ t.why }}</span>
      </li>
    </ul>
  </main>
</template>

<style scoped>
.archive {
  padding: 1rem 1.25rem 2rem;
  max-width: 56rem;
}
.lead {
  max-width: 44rem;
}
.tasks li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1rem;
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: 0.5rem 0;
}
progress {
  width: 14rem;
  height: 0.8rem;
  accent-color: var(--shade-ink);
}
.off {
  opacity: 0.5;
}
label.btn:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
</style>
