<script setup lang="ts">
import { say } from '../words'
import Button from 'primevue/button'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { lookAt, takeTable, undoIntake, useIntakes } from '../api/intake'
import type { IntakeKind, IntakeReply, Unit } from '../api/types'
import { useVocabulary } from '../api/scales'
import RefusalNote from '../ui/RefusalNote.vue'
import RowErrors from '../ui/RowErrors.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { momentText } from '../ui/format'

// A table comes in: looked at first, columns mapped by a person, whole or not at all; the last one can be
// taken back.
const kinds = computed<{ kind: IntakeKind; label: string; says: string }[]>(() => [
  { kind: 'customers', label: say('common-customers'), says: say('import-name-number-addresses-contact') },
  { kind: 'scales', label: say('common-scales'), says: say('import-one-a-row-whoever-is') },
  { kind: 'weights', label: say('common-weights'), says: say('import-with-their-certificates-one-piece') },
  {
    kind: 'results',
    label: say('import-earlier-results'),
    says: say('import-scale-date-load-indication-or'),
  },
])
const route = useRoute()
const kind = ref<IntakeKind>(kinds.value.find((k) => k.kind === route.query.kind)?.kind ?? 'customers')
const unit = ref<Unit | ''>('')
const file = ref<File | null>(null)
const mapping = reactive<Record<string, string>>({})
const looked = ref<IntakeReply | null>(null)
const taken = ref('')
const works = computed(() => session.has('technician'))
const { data: words } = useVocabulary()
const { data: past } = useIntakes()
const looking = useTried()
const undoing = useTried()
const last = computed(() => past.value?.find((i) => !i.undone_at)?.id)
const nameOf = (k: IntakeKind) => kinds.value.find((x) => x.kind === k)?.label ?? k

function forget(): void {
  for (const name of Object.keys(mapping)) delete mapping[name]
  looked.value = null
}
async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  // The same file, mended, may be chosen again.
  input.value = ''
  taken.value = ''
  looked.value = null
  await look()
}
watch([kind, unit], async () => {
  taken.value = ''
  forget()
  await look()
})
// Answers may come in another order than the questions: only the newest counts.
let asked = 0
async function look(): Promise<void> {
  const one = file.value
  if (!one) return
  const question = ++asked
  await looking.tried(async () => {
    let told = await lookAt(one, { kind: kind.value, unit: unit.value, mapping })
    if (question !== asked) return
    // Which column is which stays for a mended file; a file with other columns begins anew.
    if (Object.values(mapping).some((theirs) => theirs && !told.head.includes(theirs))) {
      forget()
      told = await lookAt(one, { kind: kind.value, unit: unit.value, mapping })
      if (question !== asked) return
    }
    looked.value = told
    for (const ours of told.ours) mapping[ours] ??= told.mapping[ours] ?? ''
  })
}
async function take(): Promise<void> {
  const one = file.value
  if (!one) return
  await looking.tried(async () => {
    const told = await takeTable(one, { kind: kind.value, unit: unit.value, mapping })
    looked.value = told
    if (!told.taken) return
    taken.value = say('import-count-rows-of-name-were', { count: told.count, name: one.name })
    file.value = null
    forget()
  })
}
</script>

<template>
  <main id="main" class="page stack">
    <h1>{{ $t('common-import-a-table') }}</h1>
    <p class="quiet lead">
      {{ $t('import-csv-in-utf-8-or') }}
    </p>
    <p v-if="!works" class="note">{{ $t('import-importing-is-for-technicians') }}</p>
    <template v-else>
      <div class="row end">
        <fieldset class="kinds">
          <legend class="small">{{ $t('import-what-it-holds') }}</legend>
          <label v-for="k in kinds" :key="k.kind" class="check"
            ><input v-model="kind" type="radio" name="kind" :value="k.kind" /> {{ k.label }}</label
          >
        </fieldset>
        <label v-if="kind !== 'customers'" class="field"
          ><span>{{ $t('import-figures-without-a-unit-are') }}</span
          ><select v-model="unit" class="input">
            <option value="">
              {{ kind === 'results' ? $t('import-the-scale-s-own-unit') : $t('import-the-workshop-s-unit') }}
            </option>
            <option v-for="u in words?.units ?? []" :key="u" :value="u">{{ u }}</option>
          </select></label
        >
        <div class="field">
          <span class="label">{{ $t('import-the-file') }}</span>
          <label class="btn"
            >{{ file ? file.name : $t('file-list-choose-a-file')
            }}<input id="intake-file" class="sr-only" type="file" accept=".csv,.txt,.xlsx,text/csv" @change="choose"
          /></label>
        </div>
      </div>
      <p class="small quiet">{{ kinds.find((k) => k.kind === kind)?.says }}</p>
      <RefusalNote :failure="looking.failure.value" />
      <p v-if="taken" class="note" role="status">{{ taken }}</p>
      <template v-if="looked && file">
        <section class="stack tight" aria-labelledby="columns">
          <h2 id="columns">{{ $t('import-which-column-is-which') }}</h2>
          <div class="grid">
            <label v-for="ours in looked.ours" :key="ours" class="field"
              ><span
                >{{ ours === 'interval' ? $t('import-interval-months') : ours
                }}<span v-if="looked.needed.includes(ours)" class="quiet small"> {{ $t('import-needed') }}</span></span
              ><select
                v-model="mapping[ours]"
                class="input"
                :aria-label="$t('import-column-for-ours', { ours })"
                @change="look"
              >
                <option value="">{{ $t('common-none') }}</option>
                <option v-for="h in looked.head" :key="h" :value="h">{{ h }}</option>
              </select></label
            >
          </div>
        </section>
        <section class="stack tight" aria-labelledby="rows">
          <h2 id="rows">{{ $t('import-the-first-rows-of-count', { count: looked.count }) }}</h2>
          <div class="scroll">
            <table class="small">
              <thead>
                <tr>
                  <th v-for="(h, i) in looked.head" :key="i" scope="col">{{ h }}</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(row, i) in looked.preview" :key="i">
                  <td v-for="(cell, j) in row" :key="j">{{ cell }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
        <RowErrors :errors="looked.errors" row="row" />
        <div class="row">
          <Button
            type="button"
            :class="{ 'btn-next': !looked.errors.length }"
            :disabled="Boolean(looked.errors.length) || !looked.count || looking.busy.value"
            @click="take"
            >{{ $t('import-import-count-rows', { count: looked.count }) }}</Button
          >
        </div>
      </template>
      <section v-if="past?.length" class="stack tight">
        <h2>{{ $t('import-imported-so-far') }}</h2>
        <table>
          <tbody>
            <tr v-for="i in past" :key="i.id">
              <td class="figure">{{ momentText(i.made_at) }}</td>
              <td>{{ $t('import-kind-rows-rows', { kind: nameOf(i.kind), rows: i.rows }) }}</td>
              <td>{{ i.file_name }}</td>
              <td>{{ i.by }}</td>
              <td>
                <span v-if="i.undone_at" class="quiet">{{ $t('import-undone') }}</span><Button
                  v-else-if="i.id === last"
                  type="button"
                  @click="undoing.tried(() => undoIntake(i.id))"
                  >{{ $t('import-undo-this-import') }}</Button
                >
              </td>
            </tr>
          </tbody>
        </table>
        <RefusalNote :failure="undoing.failure.value" />
      </section>
    </template>
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 76rem;
}
.lead {
  max-width: 44rem;
}
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1.2rem;
  border: 0;
  padding: 0;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.5rem 1rem;
}
.scroll {
  overflow-x: auto;
}
label.btn:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
</style>
