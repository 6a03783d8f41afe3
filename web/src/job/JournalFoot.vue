<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { Assessment, Stage } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { useTyped } from '../state/typed'
import JobFiles from './JobFiles.vue'
import { useEntry } from './useEntry'
import { useJob } from './useJob'
import { clockText } from '../ui/format'

type Line = Assessment['entries'][number]
defineProps<{ stage: Stage }>()
const job = useJob()
const entry = useEntry()
const all = ref(false)
const striking = ref<Line | null>(null)
const files = ref(false)
const reason = useTyped(() => `${job.id}.strike`)
const lines = computed(() => [...(job.assessment.value?.entries ?? [])].reverse())
const shown = computed(() => (all.value ? lines.value : lines.value.slice(0, 2)))

async function strike(): Promise<void> {
  if (!striking.value) return
  if (await entry.enter({ kind: 'struck_out', entry: striking.value.id, reason: reason.value })) {
    reason.value = ''
    striking.value = null
  }
}
</script>

<template>
  <footer class="journal no-print" :aria-label="$t('journal-foot-journal')">
    <ol>
      <li v-for="line in shown" :key="line.id" :class="{ struck: line.struck }">
        <span class="figure quiet seq">{{ line.seq }}</span><span class="figure quiet">{{ clockText(line.at) }}</span>
        <span class="says" :class="{ short: !all }" :title="all ? undefined : String(line.says)">{{
          line.says
        }}</span><span v-if="line.struck" class="small why">{{
          $t('journal-foot-struck-out-struck', { struck: line.struck })
        }}</span>
        <button
          v-if="line.can_strike && !job.frozen.value"
          type="button"
          class="strike"
          :aria-label="$t('journal-foot-strike-out-entry-seq', { seq: line.seq })"
          @click="striking = line"
        >
          {{ $t('journal-foot-strike-out') }}
        </button>
      </li>
    </ol>
    <button v-if="lines.length > 2" type="button" class="btn btn-bare more" @click="all = !all">
      {{ all ? $t('journal-foot-last-entries-only') : $t('journal-foot-all-count-entries', { count: lines.length }) }}
    </button>
    <!-- At closing they stand on the page itself. -->
    <button
      v-if="stage !== 'close' && !job.assessment.value?.sheet.practice"
      type="button"
      class="btn btn-bare more"
      @click="files = true"
    >
      {{
        $t('journal-foot-photos-and-fileswhat', {
          what: job.assessment.value?.files.length ? ` (${job.assessment.value.files.length})` : '',
        })
      }}
    </button>
    <Dialog v-model:visible="files" modal :header="$t('common-photos-and-files')"
      ><JobFiles :stage="stage" headless
    /></Dialog>
    <Dialog
      :visible="striking !== null"
      modal
      :header="$t('journal-foot-strike-out-2')"
      @update:visible="striking = null"
    >
      <form class="stack" @submit.prevent="strike">
        <p>{{ striking?.says }}</p>
        <p class="small quiet">{{ $t('journal-foot-it-stays-in-the-journal') }}</p>
        <RefusalNote :failure="entry.general(['reason'])" />
        <div class="field">
          <label for="strike-reason">{{ $t('journal-foot-why') }}</label>
          <InputText id="strike-reason" v-model="reason" autofocus :aria-invalid="Boolean(entry.wrong('reason'))" />
          <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
        </div>
        <div>
          <Button type="submit" class="btn-next" :disabled="entry.blocked.value">{{
            $t('journal-foot-strike-it-out')
          }}</Button>
        </div>
      </form>
    </Dialog>
  </footer>
</template>

<style scoped>
.journal {
  border-top: 2px solid var(--ink);
  background: var(--sheet);
  padding: 0.3rem 1.25rem;
  display: flex;
  gap: 1rem;
  align-items: start;
}
ol {
  flex: 1;
  min-width: 0;
  max-height: 40vh;
  overflow: auto;
}
li {
  display: flex;
  gap: 0.9rem;
  align-items: baseline;
  min-height: 1.9rem;
  border-bottom: 1px solid var(--rule-2);
}
li:last-child {
  border-bottom: none;
}
.seq {
  min-width: 2ch;
  text-align: right;
}
.says {
  min-width: 0;
}
/* A load of forty pieces must not push the work off the screen. */
.short {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.struck .says {
  text-decoration: line-through;
  color: var(--ink-2);
}
.why {
  color: var(--ink-2);
}
.strike {
  font: inherit;
  font-size: 0.875rem;
  margin-left: auto;
  background: none;
  border: none;
  color: var(--ink-2);
  text-decoration: underline;
  cursor: pointer;
  min-height: 1.9rem;
  padding: 0 0.5rem;
  white-space: nowrap;
}
/* On a telephone the list keeps the width. */
@media (max-width: 40rem) {
  .journal {
    flex-wrap: wrap;
  }
  ol {
    flex-basis: 100%;
  }
}
.more {
  white-space: nowrap;
}
</style>
