<script setup lang="ts">
import { say } from '../words'
import { v7 as uuidv7 } from 'uuid'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useToast } from 'primevue/usetoast'
import { beginJob } from '../api/jobs'
import type { Outcome, ScaleRow } from '../api/types'
import ErrorChart from '../drawings/ErrorChart.vue'
import { dayText, outcomeVerdict, outcomeWord, maxByD } from '../ui/format'
import VerdictMark from '../ui/VerdictMark.vue'

const props = defineProps<{ row: ScaleRow; works: boolean }>()
const router = useRouter()
const toast = useToast()
const busy = ref(false)
const sheet = computed(() => props.row.sheet)
const outcome = computed(() => props.row.last_outcome as Outcome | null)
const overdue = computed(() => props.row.next_due !== null && new Date(`${props.row.next_due}T23:59:59`) < new Date())

async function start(): Promise<void> {
  busy.value = true
  const id = uuidv7()
  try {
    await beginJob(id, sheet.value.id)
    await router.push({ name: 'job', params: { job: id } })
  } catch (error) {
    toast.add({
      severity: 'error',
      summary: say('scale-line-no-job-was-begun'),
      detail: error instanceof Error ? error.message : '',
      life: 8000,
    })
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <tr>
    <th scope="row" class="name">
      <RouterLink :to="{ name: 'scale', params: { scale: sheet.id } }">{{ sheet.name }}</RouterLink><br /><span
        class="small quiet plain"
        >{{ sheet.serial }}{{ row.connected ? ' ' + $t('scale-line-connected') : '' }}</span
      >
    </th>
    <td>
      {{ sheet.owner }}<br /><span class="small quiet">{{ sheet.place }}</span>
    </td>
    <td class="figure right">
      <template v-if="sheet.plate">{{ maxByD(sheet.plate.max, sheet.plate.d_min) }}</template><span
        v-else
        class="quiet"
        >{{ $t('scale-line-no-plate') }}</span
      >
    </td>
    <td class="class">{{ sheet.tolerance.class ?? $t('scale-line-house') }}</td>
    <td>
      <div class="last">
        <ErrorChart v-if="row.last_shade" :chart="row.last_shade" size="small" />
        <span v-if="outcome && row.last_closed_at"
          ><VerdictMark :verdict="outcomeVerdict(outcome)" :word="outcomeWord(outcome)" /><br /><span
            class="small quiet"
            >{{ dayText(row.last_closed_at) }}</span
          ></span
        >
        <span v-else class="quiet">{{ $t('route-no-record-yet') }}</span>
      </div>
    </td>
    <td>
      <template v-if="row.next_due"
        >{{ dayText(row.next_due) }}<br v-if="overdue" /><strong v-if="overdue" class="small over">{{
          $t('scale-line-overdue')
        }}</strong></template
      ><span v-else class="quiet">–</span>
    </td>
    <td class="right">
      <RouterLink v-if="row.open_job" class="btn" :to="{ name: 'job', params: { job: row.open_job } }">{{
        $t('record-review-go-on')
      }}</RouterLink>
      <button
        v-else-if="works"
        type="button"
        class="btn"
        :disabled="busy"
        :aria-label="$t('scale-line-start-job-on-name', { name: sheet.name })"
        @click="start"
      >
        {{ $t('scale-line-start-job') }}
      </button>
    </td>
  </tr>
</template>

<style scoped>
.class {
  padding-left: 0.8rem;
}
td,
th {
  vertical-align: middle;
  padding-top: 0.35rem;
  padding-bottom: 0.35rem;
}
.name {
  font-size: 1rem;
  color: var(--ink);
}
.plain {
  font-weight: 400;
}
.last {
  display: flex;
  gap: 0.8rem;
  align-items: center;
}
.over {
  color: var(--light-ink);
}
.btn {
  white-space: nowrap;
}
/* On a phone each scale is a card: its name and what to do with it first. */
@media (max-width: 40rem) {
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 0.2rem 0.8rem;
    padding: 0.6rem 0;
    border-bottom: 1px solid var(--rule-2);
  }
  th,
  td {
    padding: 0;
    border: none;
    text-align: left;
  }
  td:nth-child(n + 2):nth-child(-n + 5) {
    grid-column: 1;
  }
  td:nth-child(6) {
    grid-column: 2;
    grid-row: 2;
    text-align: right;
  }
  td:last-child {
    grid-column: 2;
    grid-row: 1;
  }
  .class {
    display: none;
  }
}
</style>
