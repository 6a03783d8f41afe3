<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { setSpanWeightRule, useKit, useSpanWeightRule } from '../api/kit'
import { useVocabulary } from '../api/scales'
import type { PieceView, SpanWeightRule } from '../api/types'
import ChosenPieces from './ChosenPieces.vue'
import InstrumentList from './InstrumentList.vue'
import ObjectForm from './ObjectForm.vue'
import OwnClasses from './OwnClasses.vue'
import PieceForm from './PieceForm.vue'
import KitFileImport from './KitFileImport.vue'
import KitTable from './KitTable.vue'
import TableLinks from '../ui/TableLinks.vue'
import { session } from '../state/session'
import { refDebounced } from '../state/small'
import { onKey } from '../state/keys'

const search = ref('')
const asked = refDebounced(search, 120)
const { data: rows, error, isPending } = useKit(asked)
const { data: rule } = useSpanWeightRule()
const works = computed(() => session.has('technician'))
const chosen = ref<string[]>([])
const editing = ref<PieceView | 'new' | null>(null)
const importing = ref(false)
const weighing = ref(false)
const classes = ref(false)
const air = ref(false)
const { data: words } = useVocabulary()
const rules = computed(() => (words.value?.span_weight_rules ?? []).map((r) => ({ ...r, label: String(r.label) })))
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
      <template v-if="rule"
        ><span class="quiet">{{ $t('weights-span-weight-asked-for') }}</span>
        <div class="rule">
          <Select
            :model-value="rule.span_weight_rule"
            :aria-label="$t('loads-school')"
            :options="rules"
            option-label="label"
            option-value="value"
            :disabled="!works"
            @update:model-value="setSpanWeightRule($event as SpanWeightRule)"
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
    <ChosenPieces v-if="works" v-model="chosen" />
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="!rows?.length && search" class="quiet" role="status">
      {{ $t('weights-no-weight-matches-search', { search }) }}
    </p>
    <p v-else-if="!rows?.length" class="quiet">{{ $t('weights-no-weight-yet-import-the') }}</p>
    <KitTable v-else v-model="chosen" :rows="rows" :works="works" @edit="editing = $event" />
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
.rule {
  width: 13rem;
}
</style>
