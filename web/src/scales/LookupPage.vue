<script setup lang="ts">
import { say } from '../words'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useLookup } from '../api/history'
import { connection } from '../offline/connection'
import { refDebounced } from '../state/small'
import ScanCode from '../ui/ScanCode.vue'
import { vCards } from '../ui/cards'
import { dayText } from '../ui/format'

// What stands on a plate, a seal, a certificate or a weight leads to the record.
const route = useRoute()
const router = useRouter()
const typed = ref(typeof route.query.q === 'string' ? route.query.q : '')
const asked = refDebounced(typed, 150)
const { data, error, isPending, isFetching } = useLookup(asked)
const ready = computed(() => asked.value.trim().length > 1)
const none = computed(
  () => data.value && !data.value.scales.length && !data.value.records.length && !data.value.pieces.length,
)
const asWhat = computed(() => ({
  number: say('lookup-number'),
  serial: say('lookup-serial-of-its-scale'),
  seal: say('lookup-seal'),
}))
watch(asked, (q) => void router.replace({ name: 'lookup', query: q ? { q } : {} }))
onMounted(() => document.getElementById('mark')?.focus())

// The code of a record's paper or label leads to the record; any other says what stands on a plate or a weight.
function scanned(text: string): void {
  const path = URL.canParse(text) && new URL(text).origin === location.origin ? new URL(text).pathname : ''
  const job = /^\/(?:check|jobs)\/([0-9a-f-]{36})/.exec(path)?.[1]
  if (job) void router.push({ name: 'record', params: { job } })
  else if (path) void router.push(path)
  else typed.value = text.slice(0, 100)
}
</script>

<template>
  <main id="main" class="lookup stack">
    <h1>{{ $t('router-look-up') }}</h1>
    <div class="field">
      <label for="mark">{{ $t('lookup-a-serial-a-seal-the') }}</label><InputText
        id="mark"
        v-model="typed"
        class="input input-figure"
        type="search"
        autocomplete="off"
        maxlength="100"
      />
    </div>
    <ScanCode @read="scanned" />
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="!ready" class="quiet">{{ $t('lookup-dashes-blanks-and-capitals-do') }}</p>
    <p v-else-if="isPending" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="none" class="quiet" role="status">
      {{ $t('lookup-nothing-here-bears-asked-no', { asked }) }}
    </p>
    <template v-else-if="data">
      <section v-if="data.records.length" aria-labelledby="on-records">
        <h2 id="on-records">{{ $t('lookup-on-records') }}</h2>
        <table v-cards>
          <thead>
            <tr>
              <th scope="col">{{ $t('lookup-found-as') }}</th>
              <th scope="col">{{ $t('common-record') }}</th>
              <th scope="col">{{ $t('common-scale') }}</th>
              <th scope="col">{{ $t('common-closed') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in data.records" :key="`${r.job}${r.kind}${r.mark}`">
              <td>
                <strong class="figure">{{ r.mark }}</strong> <span class="small quiet">{{ asWhat[r.kind] }}</span>
              </td>
              <td>
                <RouterLink class="figure" :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
              </td>
              <td>
                {{ r.scale }} <span class="quiet">{{ r.owner }}</span>
              </td>
              <td>{{ dayText(r.closed_at) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="data.pieces.length" aria-labelledby="weights">
        <h2 id="weights">{{ $t('common-weights') }}</h2>
        <table v-cards>
          <thead>
            <tr>
              <th scope="col">{{ $t('common-serial') }}</th>
              <th scope="col" class="right">{{ $t('common-nominal') }}</th>
              <th scope="col">{{ $t('common-certificate') }}</th>
              <th scope="col">{{ $t('lookup-records-that-rest-on-it') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in data.pieces" :key="p.piece">
              <td>
                <RouterLink class="figure" :to="{ name: 'weights', query: { piece: p.piece } }">{{
                  p.serial
                }}</RouterLink>
              </td>
              <td class="figure right">{{ p.nominal }}</td>
              <td>{{ p.certificate ?? '' }}</td>
              <!-- What rests on it only the server knows. -->
              <td class="figure">{{ connection.answers.value ? p.records : '–' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="data.scales.length" aria-labelledby="on-scales">
        <h2 id="on-scales">{{ $t('common-scales') }}</h2>
        <table v-cards>
          <thead>
            <tr>
              <th scope="col">{{ $t('common-scale') }}</th>
              <th scope="col">{{ $t('home-where') }}</th>
              <th scope="col">{{ $t('common-serial') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in data.scales" :key="s.sheet.id">
              <td>
                <RouterLink :to="{ name: 'history', params: { scale: s.sheet.id } }">{{ s.sheet.name }}</RouterLink>
              </td>
              <td>
                {{ s.sheet.owner }}, <span class="quiet">{{ s.sheet.place }}</span>
              </td>
              <td class="figure">{{ s.sheet.serial }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <p v-if="data.more" class="small quiet">{{ $t('lookup-there-are-more-than-these') }}</p>
      <p v-if="isFetching" class="sr-only" role="status">{{ $t('common-looking') }}</p>
    </template>
  </main>
</template>

<style scoped>
.lookup {
  padding: 1rem 1.25rem 2rem;
  max-width: 68rem;
}
.field {
  max-width: 34rem;
}
</style>
