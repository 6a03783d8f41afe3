<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { changePieces, setSchool, useKit, useSchool } from '../api/kit'
import type { PieceView, School } from '../api/types'
import InstrumentList from './InstrumentList.vue'
import ObjectForm from './ObjectForm.vue'
import OwnClasses from './OwnClasses.vue'
import PieceForm from './PieceForm.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import KitFileImport from './KitFileImport.vue'
import TableLinks from '../ui/TableLinks.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { onKeyStroke, refDebounced } from '../state/small'
import { dayText } from '../ui/format'

const search = ref('')
const asked = refDebounced(search, 120)
const { data: rows, error, isPending } = useKit(asked)
const { data: school } = useSchool()
const works = computed(() => session.has('technician'))
const chosen = ref<string[]>([])
const editing = ref<PieceView | 'new' | null>(null)
const importing = ref(false)
const weighing = ref(false)
const classes = ref(false)
const air = ref(false)
const place = ref('')
const holder = ref('')
const { failure, tried } = useTried()
const schools: { value: School; label: string }[] = [
  { value: 'tenth', label: 'a tenth of Max' },
  { value: 'quarter', label: 'a quarter of Max' },
  { value: 'full', label: 'all of Max' },
  { value: 'working', label: 'the working load' },
  { value: 'table4', label: 'Handbook 44, table 4' },
]
onKeyStroke('/', () => document.getElementById('kit-search')?.focus())
// A piece that was looked up opens at once.
const route = useRoute()
const stop = watch(
  rows,
  (now) => {
    const found = now?.find((r) => r.piece.id === route.query.piece)
    if (!now) return
    if (found) editing.value = found
    queueMicrotask(() => stop())
  },
  { immediate: true },
)

async function bulk(what: { place?: string; holder?: string; damaged?: boolean }): Promise<void> {
  await tried(async () => {
    await changePieces({ ids: chosen.value, ...what })
    chosen.value = []
    place.value = holder.value = ''
  })
}
function all(event: Event): void {
  chosen.value = (event.target as HTMLInputElement).checked ? (rows.value ?? []).map((r) => r.piece.id) : []
}
const last = (r: PieceView) => r.piece.certificates?.at(-1)
</script>

<template>
  <main id="main" class="kit stack tight">
    <div class="row">
      <h1>Weights</h1>
      <div class="search">
        <InputText
          id="kit-search"
          v-model="search"
          type="search"
          placeholder="Serial, mass, set, place, certificate"
          aria-label="Search among the weights"
        />
      </div>
      <span class="push"></span>
      <template v-if="works"
        ><button type="button" class="btn" @click="editing = 'new'">New piece</button
        ><RouterLink class="btn" :to="{ name: 'intake', query: { kind: 'weights' } }">Import a table</RouterLink
        ><button type="button" class="btn" @click="importing = true">Import a kit file</button></template
      >
    </div>
    <div class="row small">
      <template v-if="school"
        ><span class="quiet">Span weight asked for</span>
        <div class="school">
          <Select
            :model-value="school.school"
            aria-label="School"
            :options="schools"
            option-label="label"
            option-value="value"
            :disabled="!works"
            @update:model-value="setSchool($event as School)"
          /></div
      ></template>
      <span class="push"></span>
      <template v-if="works"
        ><button type="button" class="btn btn-bare" @click="weighing = true">Weighed object</button
        ><button type="button" class="btn btn-bare" @click="classes = true">Own classes</button
        ><button type="button" class="btn btn-bare" @click="air = true">Environment instruments</button></template
      >
      <TableLinks what="weights" label="As a table" /><a class="btn btn-bare" href="/api/kit/file" download
        >Save as a kit file</a
      >
    </div>
    <RefusalNote :failure="failure" />
    <form v-if="chosen.length && works" class="row bulk" @submit.prevent>
      <strong>{{ chosen.length }} chosen</strong>
      <InputText v-model="place" class="input short" aria-label="New place" placeholder="place" /><Button
        type="button"
        @click="bulk({ place })"
        >Move there</Button
      >
      <InputText v-model="holder" class="input short" aria-label="Who has them" placeholder="who has them" /><Button
        type="button"
        @click="bulk({ holder })"
        >{{ holder ? 'Give to' : 'Nobody has them' }}</Button
      >
      <Button type="button" @click="bulk({ damaged: true })">Damaged</Button
      ><Button type="button" @click="bulk({ damaged: false })">Not damaged</Button>
    </form>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="quiet" role="status">Looking …</p>
    <p v-else-if="!rows?.length && search" class="quiet" role="status">No weight matches “{{ search }}”.</p>
    <p v-else-if="!rows?.length" class="quiet">No weight yet. Import the table you have, or add the first piece.</p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th v-if="works"><input type="checkbox" aria-label="Choose all" @change="all" /></th>
            <th scope="col" class="right">Nominal</th>
            <th scope="col">Serial</th>
            <th scope="col">Class</th>
            <th scope="col">Form, set</th>
            <th scope="col">Place</th>
            <th scope="col">Certificate</th>
            <th scope="col" class="right">Error, U (k)</th>
            <th scope="col">Due</th>
            <th scope="col">May be used</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.piece.id" :class="{ out: r.usable.is === 'no' }">
            <td v-if="works">
              <input v-model="chosen" type="checkbox" :value="r.piece.id" :aria-label="`Choose ${r.piece.serial}`" />
            </td>
            <td class="figure right">{{ r.piece.nominal.value }} {{ r.piece.nominal.unit }}</td>
            <td>
              <button type="button" class="link figure" @click="editing = r">{{ r.piece.serial }}</button>
            </td>
            <td>{{ r.piece.class ?? r.piece.own?.class ?? '–' }}</td>
            <td>
              {{ r.piece.form }}<span v-if="r.piece.set" class="small quiet">, {{ r.piece.set }}</span>
            </td>
            <td>
              {{ r.piece.place }}<span v-if="r.piece.holder" class="small quiet"><br />with {{ r.piece.holder }}</span>
            </td>
            <td>
              {{ last(r)?.number ?? (r.piece.reference ? `by record ${r.piece.reference.record}` : '–')
              }}<a
                v-if="last(r) && r.files.includes(last(r)!.number)"
                class="small"
                :href="`/api/kit/${r.piece.id}/certificates/${encodeURIComponent(last(r)!.number)}`"
                download
              >
                file</a
              >
            </td>
            <td class="figure right small">
              {{
                r.piece.reference
                  ? `u ${r.piece.reference.u.value} ${r.piece.reference.u.unit}`
                  : last(r)?.error
                    ? `${last(r)!.error!.value} ${last(r)!.error!.unit}`
                    : 'by class'
              }}<template v-if="last(r)?.U">, {{ last(r)!.U!.value }} ({{ last(r)!.k }})</template
              ><span v-if="r.drift" class="quiet"><br />drift {{ r.drift }}</span>
            </td>
            <td>{{ last(r) ? dayText(last(r)!.due) : '–' }}</td>
            <td>
              <template v-if="r.usable.is === 'yes'"
                ><span v-if="r.usable.due_in_days !== null" class="soon">due in {{ r.usable.due_in_days }} days</span
                ><span v-else class="fine">yes</span></template
              ><strong v-else class="no">NO: {{ r.usable.why }}</strong>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <PieceForm v-if="editing" :found="editing === 'new' ? null : editing" :works="works" @close="editing = null" />
    <ObjectForm v-if="weighing" @close="weighing = false" />
    <InstrumentList v-if="air" @close="air = false" />
    <OwnClasses v-if="classes" @close="classes = false" />
    <KitFileImport v-if="importing" @close="importing = false" />
  </main>
</template>

<style scoped>
.kit {
  padding: 0.8rem 1.25rem 2rem;
}
.search {
  width: min(20rem, 100%);
}
.school {
  width: 13rem;
}
.short {
  width: 11rem;
}
.bulk {
  position: sticky;
  top: 0;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  padding: 0.4rem 0.8rem;
  z-index: 3;
}
.scroll {
  overflow-x: auto;
}
td {
  padding-top: 0.1rem;
  padding-bottom: 0.1rem;
}
td:nth-child(3),
td:nth-child(4) {
  padding-left: 0.6rem;
}
.link {
  font: inherit;
  font-family: var(--figure);
  background: none;
  border: none;
  color: inherit;
  text-decoration: underline;
  cursor: pointer;
  min-height: 1.9rem;
  padding: 0;
}
input[type='checkbox'] {
  width: 1.3rem;
  height: 1.3rem;
  accent-color: var(--ink);
  vertical-align: middle;
}
.no {
  color: var(--light-ink);
}
.soon {
  color: var(--caution);
  font-weight: 650;
}
.fine {
  color: var(--shade-ink);
}
</style>
