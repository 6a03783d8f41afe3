<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useLookup } from '../api/history'
import { refDebounced } from '../state/small'
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
const asWhat = { number: 'number', serial: 'serial of its scale', seal: 'seal' }
watch(asked, (q) => void router.replace({ name: 'lookup', query: q ? { q } : {} }))
onMounted(() => document.getElementById('mark')?.focus())
</script>

<template>
  <main id="main" class="lookup stack">
    <h1>Look up</h1>
    <div class="field">
      <label for="mark"
        >A serial, a seal, the number of a record or of a certificate, the mark of a weight; a part of it will do</label
      ><InputText
        id="mark"
        v-model="typed"
        class="input input-figure"
        type="search"
        autocomplete="off"
        maxlength="100"
      />
    </div>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="!ready" class="quiet">Dashes, blanks and capitals do not matter.</p>
    <p v-else-if="isPending" class="quiet" role="status">Looking …</p>
    <p v-else-if="none" class="quiet" role="status">
      Nothing here bears “{{ asked }}”: no scale, no record, no weight.
    </p>
    <template v-else-if="data">
      <section v-if="data.records.length" aria-labelledby="on-records">
        <h2 id="on-records">On records</h2>
        <table>
          <thead>
            <tr>
              <th scope="col">Found as</th>
              <th scope="col">Record</th>
              <th scope="col">Scale</th>
              <th scope="col">Closed</th>
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
        <h2 id="weights">Weights</h2>
        <table>
          <thead>
            <tr>
              <th scope="col">Serial</th>
              <th scope="col" class="right">Nominal</th>
              <th scope="col">Certificate</th>
              <th scope="col">Records that rest on it</th>
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
              <td class="figure">{{ p.records }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="data.scales.length" aria-labelledby="on-scales">
        <h2 id="on-scales">Scales</h2>
        <table>
          <thead>
            <tr>
              <th scope="col">Scale</th>
              <th scope="col">Where</th>
              <th scope="col">Serial</th>
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
      <p v-if="data.more" class="small quiet">There are more than these; type more of it.</p>
      <p v-if="isFetching" class="sr-only" role="status">Looking …</p>
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
