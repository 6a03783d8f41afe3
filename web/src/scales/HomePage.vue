<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { refDebounced } from '../state/small'
import { onKey } from '../state/keys'
import { computed, ref } from 'vue'
import { useOpenJobs } from '../api/jobs'
import { useWaiting } from '../api/papers'
import { useScales } from '../api/scales'
import ImportButton from '../ui/ImportButton.vue'
import ScaleLine from './ScaleLine.vue'
import { clockText, dayText, outcomeWord } from '../ui/format'
import { session } from '../state/session'

const search = ref('')
const asked = refDebounced(search, 120)
const scales = useScales(asked)
const { data: jobs } = useOpenJobs()
const { data: waiting } = useWaiting()
const rows = computed(() => scales.data.value?.pages.flatMap((p) => p.scales) ?? [])
const works = computed(() => session.has('technician'))
onKey('search', () => document.getElementById('search')?.focus())
</script>

<template>
  <main id="main" class="home stack">
    <section v-if="jobs?.length" aria-labelledby="open-jobs">
      <h2 id="open-jobs">{{ $t('home-open-jobs') }}</h2>
      <ul class="jobs">
        <li v-for="job in jobs" :key="job.id">
          <RouterLink
            class="btn"
            :class="{ 'btn-next': works && job === jobs[0] }"
            :to="{ name: 'job', params: { job: job.id } }"
            >{{ $t('home-go-on-scale', { scale: job.scale }) }}</RouterLink
          >
          <span
            >{{ job.owner }}<br /><span class="small quiet">{{
              $t('home-started-by-started-at-started', {
                started_by: job.started_by,
                started_at: dayText(job.started_at),
                started_at2: clockText(job.started_at),
                entries: job.entries,
              })
            }}</span
            ><span v-if="job.sent_back" class="note note-caution small sent-back"
              ><strong>{{ $t('home-sent-back') }}</strong> {{ job.sent_back }}</span
            ></span
          >
        </li>
      </ul>
    </section>
    <section v-if="waiting?.length" aria-labelledby="to-approve">
      <h2 id="to-approve">{{ works ? $t('home-waiting-for-approval') : $t('home-to-approve') }}</h2>
      <ul class="jobs">
        <li v-for="w in waiting" :key="w.job">
          <RouterLink
            class="btn"
            :class="{ 'btn-next': !works && w === waiting[0] }"
            :to="{ name: 'record', params: { job: w.job } }"
            >{{ w.number }}: {{ w.scale }}</RouterLink
          >
          <span
            >{{ w.owner }}<br /><span class="small quiet">{{
              $t('home-outcome-signed-signed-at', { outcome: outcomeWord(w.outcome), signed_at: dayText(w.signed_at) })
            }}</span></span
          >
        </li>
      </ul>
    </section>
    <section class="stack">
      <div class="row">
        <h1>{{ $t('common-scales') }}</h1>
        <div class="search">
          <InputText
            id="search"
            v-model="search"
            type="search"
            :placeholder="$t('due-name-owner-place-serial')"
            :aria-label="$t('home-search-among-the-scales')"
          />
        </div>
        <RouterLink class="btn btn-bare" :to="{ name: 'lookup', query: search ? { q: search } : {} }">{{
          $t('home-look-up-a-seal-a')
        }}</RouterLink>
        <span class="push"></span>
        <RouterLink v-if="works" class="btn btn-bare" :to="{ name: 'along' }">{{ $t('app-bar-along') }}</RouterLink>
        <ImportButton v-if="works" />
        <RouterLink v-if="works" class="btn" :to="{ name: 'new-scale' }">{{ $t('common-new-scale') }}</RouterLink>
      </div>
      <p v-if="scales.error.value" class="note note-wrong" role="alert">{{ scales.error.value.message }}</p>
      <p v-else-if="scales.isPending.value" class="quiet" role="status">{{ $t('common-looking') }}</p>
      <p v-else-if="!rows.length && search" class="quiet" role="status">
        {{ $t('home-no-scale-matches-search', { search }) }}
        <RouterLink :to="{ name: 'lookup', query: { q: search } }">{{ $t('home-look-for-it-on-records') }}</RouterLink>
      </p>
      <p v-else-if="!rows.length" class="quiet">{{ $t('home-no-scale-yet-add-one') }}</p>
      <div v-else class="scroll">
        <table>
          <thead>
            <tr>
              <th scope="col">{{ $t('common-scale') }}</th>
              <th scope="col">{{ $t('home-where') }}</th>
              <th scope="col" class="right">{{ $t('home-max-d') }}</th>
              <th scope="col" class="class">{{ $t('common-class') }}</th>
              <th scope="col">{{ $t('home-last-record') }}</th>
              <th scope="col">{{ $t('home-next-due') }}</th>
              <th>
                <span class="sr-only">{{ $t('router-job') }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <ScaleLine v-for="row in rows" :key="row.sheet.id" :row="row" :works="works" />
          </tbody>
        </table>
      </div>
      <Button
        v-if="scales.hasNextPage.value"
        type="button"
        :disabled="scales.isFetchingNextPage.value"
        @click="scales.fetchNextPage()"
        >{{ $t('home-more-scales') }}</Button
      >
    </section>
  </main>
</template>

<style scoped>
.home {
  padding: 1rem 1.25rem 2rem;
  gap: 1.5rem;
}
.class {
  padding-left: 0.8rem;
}
.jobs {
  display: flex;
  flex-wrap: wrap;
  gap: 0.8rem 2rem;
  margin-top: 0.6rem;
}
.jobs li {
  display: flex;
  gap: 0.9rem;
  align-items: center;
}
.sent-back {
  display: block;
  margin-top: 0.3rem;
  max-width: 26rem;
}
.search {
  width: min(24rem, 100%);
}
.scroll {
  overflow-x: auto;
}
@media (max-width: 40rem) {
  thead {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  table,
  tbody {
    display: block;
  }
}
</style>
