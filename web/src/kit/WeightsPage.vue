<script setup lang="ts">
import { say } from '../words'
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
import { refDebounced } from '../state/small'
import { onKey } from '../state/keys'
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
const schools = computed<{ value: School; label: string }[]>(() => [
  { value: 'tenth', label: say('weights-a-tenth-of-max') },
  { value: 'quarter', label: say('weights-a-quarter-of-max') },
  { value: 'full', label: say('weights-all-of-max') },
  { value: 'working', label: say('weights-the-working-load') },
  { value: 'table4', label: say('weights-handbook-44-table-4') },
])
onKey('search', () => document.getElementById('kit-search')?.focus())
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
      <h1>{{ $t('common-weights') }}</h1>
      <div class="search">
        <InputText
          id="kit-search"
          v-model="search"
          type="search"
          :placeholder="$t('weights-serial-mass-set-place-certificate')"
          :aria-label="$t('weights-search-among-the-weights')"
        />
      </div>
      <span class="push"></span>
      <template v-if="works"
        ><button type="button" class="btn" @click="editing = 'new'">{{ $t('piece-form-new-piece') }}</button
        ><RouterLink class="btn" :to="{ name: 'intake', query: { kind: 'weights' } }">{{
          $t('common-import-a-table')
        }}</RouterLink
        ><button type="button" class="btn" @click="importing = true">
          {{ $t('kit-file-import-import-a-kit-file') }}
        </button></template
      >
    </div>
    <div class="row small">
      <template v-if="school"
        ><span class="quiet">{{ $t('weights-span-weight-asked-for') }}</span>
        <div class="school">
          <Select
            :model-value="school.school"
            :aria-label="$t('loads-school')"
            :options="schools"
            option-label="label"
            option-value="value"
            :disabled="!works"
            @update:model-value="setSchool($event as School)"
          /></div
      ></template>
      <span class="push"></span>
      <template v-if="works"
        ><button type="button" class="btn btn-bare" @click="weighing = true">{{ $t('weights-weighed-object') }}</button
        ><button type="button" class="btn btn-bare" @click="classes = true">{{ $t('weights-own-classes') }}</button
        ><button type="button" class="btn btn-bare" @click="air = true">
          {{ $t('instrument-list-environment-instruments') }}
        </button></template
      >
      <TableLinks what="weights" :label="$t('weights-as-a-table')" /><a
        class="btn btn-bare"
        href="/api/kit/file"
        download
        >{{ $t('weights-save-as-a-kit-file') }}</a
      >
    </div>
    <RefusalNote :failure="failure" />
    <form v-if="chosen.length && works" class="row bulk" @submit.prevent>
      <strong>{{ $t('weights-count-chosen', { count: chosen.length }) }}</strong>
      <InputText
        v-model="place"
        class="input short"
        :aria-label="$t('weights-new-place')"
        :placeholder="$t('weights-place')"
      /><Button type="button" @click="bulk({ place })">{{ $t('weights-move-there') }}</Button>
      <InputText
        v-model="holder"
        class="input short"
        :aria-label="$t('weights-who-has-them')"
        :placeholder="$t('weights-who-has-them-2')"
      /><Button type="button" @click="bulk({ holder })">{{
        holder ? $t('weights-give-to') : $t('weights-nobody-has-them')
      }}</Button>
      <Button type="button" @click="bulk({ damaged: true })">{{ $t('piece-form-damaged') }}</Button><Button
        type="button"
        @click="bulk({ damaged: false })"
        >{{ $t('weights-not-damaged') }}</Button
      >
    </form>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="!rows?.length && search" class="quiet" role="status">
      {{ $t('weights-no-weight-matches-search', { search }) }}
    </p>
    <p v-else-if="!rows?.length" class="quiet">{{ $t('weights-no-weight-yet-import-the') }}</p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th v-if="works"><input type="checkbox" :aria-label="$t('weights-choose-all')" @change="all" /></th>
            <th scope="col" class="right">{{ $t('common-nominal') }}</th>
            <th scope="col">{{ $t('common-serial') }}</th>
            <th scope="col">{{ $t('common-class') }}</th>
            <th scope="col">{{ $t('weights-form-set') }}</th>
            <th scope="col">{{ $t('common-place') }}</th>
            <th scope="col">{{ $t('common-certificate') }}</th>
            <th scope="col" class="right">{{ $t('weights-error-u-k') }}</th>
            <th scope="col">{{ $t('common-due') }}</th>
            <th scope="col">{{ $t('weights-may-be-used') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.piece.id" :class="{ out: r.usable.is === 'no' }">
            <td v-if="works">
              <input
                v-model="chosen"
                type="checkbox"
                :value="r.piece.id"
                :aria-label="$t('weights-choose-serial', { serial: r.piece.serial })"
              />
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
              {{ r.piece.place
              }}<span v-if="r.piece.holder" class="small quiet"
                ><br />{{ $t('weights-with-holder', { holder: r.piece.holder }) }}</span
              >
            </td>
            <td>
              {{
                last(r)?.number ??
                (r.piece.reference ? $t('weights-by-record-record', { record: r.piece.reference.record }) : '–')
              }}<a
                v-if="last(r) && r.files.includes(last(r)!.number)"
                class="small"
                :href="`/api/kit/${r.piece.id}/certificates/${encodeURIComponent(last(r)!.number)}`"
                download
              >
                {{ $t('weights-file') }}</a
              >
            </td>
            <td class="figure right small">
              {{
                r.piece.reference
                  ? `u ${r.piece.reference.u.value} ${r.piece.reference.u.unit}`
                  : last(r)?.error
                    ? `${last(r)!.error!.value} ${last(r)!.error!.unit}`
                    : $t('weights-by-class')
              }}<template v-if="last(r)?.U">, {{ last(r)!.U!.value }} ({{ last(r)!.k }})</template
              ><span v-if="r.drift" class="quiet"><br />{{ $t('weights-drift-drift', { drift: r.drift }) }}</span>
            </td>
            <td>{{ last(r) ? dayText(last(r)!.due) : '–' }}</td>
            <td>
              <template v-if="r.usable.is === 'yes'"
                ><span v-if="r.usable.due_in_days !== null" class="soon">{{
                  $t('weights-due-in-due-in-days', { due_in_days: r.usable.due_in_days })
                }}</span
                ><span v-else class="fine">{{ $t('weights-yes') }}</span></template
              ><strong v-else class="no">{{ $t('weights-no-why', { why: r.usable.why }) }}</strong>
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
