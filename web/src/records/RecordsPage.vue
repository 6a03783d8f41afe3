<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive } from 'vue'
import { useRoute } from 'vue-router'
import { callOff, useTasks } from '../api/archive'
import { useAllCustomers } from '../api/customers'
import { beginPapers, useRecords } from '../api/records'
import { useVocabulary } from '../api/scales'
import type { Outcome, RecordsAsked, ScaleKind } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import TableLinks from '../ui/TableLinks.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { refDebounced } from '../state/small'
import { onKey } from '../state/keys'
import { useTried } from '../state/tried'
import { dayText, outcomeVerdict, outcomeWord } from '../ui/format'
import { vCards } from '../ui/cards'

// Every record of the workshop, as it is filtered; its papers as one file.
const outcomes: Outcome[] = ['in_tolerance', 'out_of_tolerance', 'not_proven']
const route = useRoute()
const from = (name: string) => (typeof route.query[name] === 'string' ? String(route.query[name]) : '')
const asked = reactive({
  search: from('search'),
  customer: from('customer'),
  place: '',
  kind: '' as ScaleKind | '',
  technician: '',
  outcome: '' as Outcome | '',
  from: '',
  to: '',
  paper: '' as '' | 'certificate' | 'report',
  waiting: route.query.waiting === 'true',
})
const filter = computed<RecordsAsked>(() => ({
  search: asked.search.trim(),
  ...(asked.customer && { customer: asked.customer }),
  ...(asked.place.trim() && { place: asked.place.trim() }),
  ...(asked.kind && { kind: asked.kind }),
  ...(asked.technician && { technician: asked.technician }),
  ...(asked.outcome && { outcome: asked.outcome }),
  ...(asked.from && { from: asked.from }),
  ...(asked.to && { to: asked.to }),
  ...(asked.paper && { certificate: asked.paper === 'certificate' }),
  ...(asked.waiting && { waiting: true }),
}))
const settled = refDebounced(filter, 200)
const list = useRecords(settled)
const rows = computed(() => list.data.value?.pages.flatMap((p) => p.records) ?? [])
const signers = computed(() => list.data.value?.pages[0]?.signers ?? [])
const filtered = computed(() => Object.values(settled.value).some(Boolean))
const { data: words } = useVocabulary()
const names = useAllCustomers()
onKey('search', () => document.getElementById('record-search')?.focus())
// Papers as one file: it goes on while the page is elsewhere.
const { data: tasks } = useTasks()
const papers = computed(() => tasks.value?.find((t) => t.kind === 'papers') ?? null)
const writing = useTried()
function clear(): void {
  Object.assign(asked, {
    search: '',
    customer: '',
    place: '',
    kind: '',
    technician: '',
    outcome: '',
    from: '',
    to: '',
    paper: '',
    waiting: false,
  })
}
</script>

<template>
  <main id="main" class="page stack tight">
    <div class="row">
      <h1>{{ $t('common-records') }}</h1>
      <input
        id="record-search"
        v-model="asked.search"
        class="input search"
        type="search"
        :placeholder="$t('records-number-scale-customer-place-serial')"
        :aria-label="$t('records-search-among-the-records')"
      />
    </div>
    <form class="row end filters no-print" :aria-label="$t('records-filters')" @submit.prevent>
      <label class="field"
        ><span>{{ $t('common-customer') }}</span
        ><select v-model="asked.customer" class="input">
          <option value="">{{ $t('records-all') }}</option>
          <option v-for="c in names" :key="c.id" :value="c.id">{{ c.name }}</option>
        </select></label
      >
      <label class="field"
        ><span>{{ $t('common-place') }}</span
        ><input v-model="asked.place" class="input short"
      /></label>
      <label class="field"
        ><span>{{ $t('records-kind') }}</span
        ><select v-model="asked.kind" class="input">
          <option value="">{{ $t('records-all') }}</option>
          <option v-for="k in words?.kinds ?? []" :key="k.value" :value="k.value">{{ k.label }}</option>
        </select></label
      >
      <label class="field"
        ><span>{{ $t('common-signed-by') }}</span
        ><select v-model="asked.technician" class="input">
          <option value="">{{ $t('records-anybody') }}</option>
          <option v-for="s in signers" :key="s" :value="s">{{ s }}</option>
        </select></label
      >
      <label class="field"
        ><span>{{ $t('common-outcome') }}</span
        ><select v-model="asked.outcome" class="input">
          <option value="">{{ $t('records-any') }}</option>
          <option v-for="o in outcomes" :key="o" :value="o">{{ outcomeWord(o) }}</option>
        </select></label
      >
      <label class="field"
        ><span>{{ $t('common-from') }}</span
        ><input v-model="asked.from" class="input" type="date"
      /></label>
      <label class="field"
        ><span>{{ $t('records-to') }}</span
        ><input v-model="asked.to" class="input" type="date"
      /></label>
      <label class="field"
        ><span>{{ $t('records-paper') }}</span
        ><select v-model="asked.paper" class="input">
          <option value="">{{ $t('records-any') }}</option>
          <option value="certificate">{{ $t('owner-calibration-certificate') }}</option>
          <option value="report">{{ $t('owner-work-report') }}</option>
        </select></label
      >
      <label class="check"><input v-model="asked.waiting" type="checkbox" /> {{ $t('records-not-approved') }}</label>
      <button v-if="filtered" type="button" class="btn btn-bare" @click="clear">
        {{ $t('records-clear-filters') }}
      </button>
    </form>
    <p v-if="list.error.value" class="note note-wrong" role="alert">{{ list.error.value.message }}</p>
    <p v-else-if="list.isPending.value" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="!rows.length && filtered" class="quiet" role="status">
      {{ $t('records-no-record-matches-these-filters') }}
    </p>
    <p v-else-if="!rows.length" class="quiet">{{ $t('records-no-record-yet-one-is') }}</p>
    <div v-else class="scroll">
      <table v-cards data-testid="records">
        <thead>
          <tr>
            <th scope="col">{{ $t('common-record') }}</th>
            <th scope="col">{{ $t('common-signed') }}</th>
            <th scope="col">{{ $t('common-scale') }}</th>
            <th scope="col">{{ $t('records-customer-place') }}</th>
            <th scope="col">{{ $t('common-signed-by') }}</th>
            <th scope="col">{{ $t('common-outcome') }}</th>
            <th scope="col">{{ $t('records-paper') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.job">
            <td class="figure">
              <RouterLink :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
            </td>
            <td class="figure">{{ dayText(r.signed_at) }}</td>
            <td>
              <strong>{{ r.scale }}</strong>
            </td>
            <td class="small">{{ [r.customer, r.place].filter(Boolean).join(', ') }}</td>
            <td>{{ r.signed_by }}</td>
            <td>
              <VerdictMark v-if="outcomeVerdict(r.outcome) !== 'none'" :verdict="outcomeVerdict(r.outcome)" />
              <template v-else>{{ outcomeWord(r.outcome) }}</template>
            </td>
            <td class="small">
              {{
                r.foreign
                  ? $t('records-from-elsewhere')
                  : r.certificate
                    ? $t('records-certificate')
                    : $t('owner-work-report')
              }}<strong v-if="r.waiting">{{ $t('records-not-approved-2') }}</strong>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="list.hasNextPage.value">
      <Button type="button" :disabled="list.isFetchingNextPage.value" @click="list.fetchNextPage()">{{
        $t('records-more-count-are-shown', { count: rows.length })
      }}</Button>
    </p>
    <template v-if="rows.length">
      <div class="row no-print">
        <Button
          type="button"
          :disabled="papers?.state === 'running'"
          @click="writing.tried(() => beginPapers(filter))"
          >{{ $t('records-export-their-pdfs-as-one') }}</Button
        >
        <template v-if="papers?.state === 'running'">
          <progress :value="papers.done" :max="papers.total || 1" :aria-label="$t('records-papers-written')"></progress>
          <span class="figure" role="status">{{
            $t('records-done-of-total', { done: papers.done, total: papers.total || '…' })
          }}</span>
          <button type="button" class="btn" @click="writing.tried(() => callOff(papers!.id))">
            {{ $t('records-cancel') }}
          </button>
        </template>
        <a v-else-if="papers?.state === 'done'" class="btn" :href="`/api/archive/${papers.id}/file`" download>{{
          $t('records-download-the-zip-says', { says: papers.says })
        }}</a>
        <span v-else-if="papers?.state === 'cancelled'" class="quiet">{{
          $t('records-cancelled-nothing-was-kept')
        }}</span>
        <span v-else-if="papers?.state === 'failed'" class="wrong" role="alert">{{ papers.why }}</span>
      </div>
      <RefusalNote :failure="writing.failure.value" />
      <TableLinks what="records" :asked="filter" :label="$t('records-these-as-a-table')" />
      <TableLinks what="readings" :asked="filter" :label="$t('records-their-readings-as-a-table')" />
    </template>
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 90rem;
}
.search {
  width: 26rem;
}
.filters {
  gap: 0.5rem 0.8rem;
  align-items: end;
}
.filters .field {
  font-size: 0.9rem;
}
.short {
  width: 9rem;
}
.scroll {
  overflow-x: auto;
}
progress {
  accent-color: var(--shade-ink);
}
</style>
