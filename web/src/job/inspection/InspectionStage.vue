<script setup lang="ts">
import { say } from '../../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, nextTick, ref, watch } from 'vue'
import { onKey } from '../../state/keys'
import { operateScale } from '../../api/jobs'
import type { Assessment, LiveView } from '../../api/types'
import RefusalNote from '../../ui/RefusalNote.vue'
import { useTyped } from '../../state/typed'
import CheckRow from './CheckRow.vue'
import FaultSettling from './FaultSettling.vue'
import WatchedItem from './WatchedItem.vue'
import WiringNotes from './WiringNotes.vue'
import SimulatedControls from '../../practice/SimulatedControls.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import WorkFrame from '../WorkFrame.vue'

type Check = Assessment['inspection'][number]
type Found = NonNullable<Check['finding']>

const props = defineProps<{ live: LiveView | null; practice: boolean }>()
const faulty = ref(false)
const job = useJob()
const entry = useEntry()
const items = computed(() => job.assessment.value?.inspection ?? [])
const chosen = ref<string | null>(null)
const item = computed<Check | undefined>(
  () =>
    items.value.find((i) => i.item === chosen.value) ??
    items.value.find((i) => i.stops) ??
    items.value.find((i) => !i.finding) ??
    items.value[0],
)
const note = useTyped(() => `${job.id}.note.${item.value?.item ?? ''}`)
const cells = useTyped(() => `${job.id}.cells`)
// Where the line carries the counts of each cell, they stand in the field.
watch(
  () => (item.value?.item === 'corners' ? props.live?.cells : undefined),
  (now) => {
    if (now?.length) cells.value = now.join(' ')
  },
)
const reason = useTyped(() => `${job.id}.reason.${item.value?.item ?? ''}`)
const left = computed(() => items.value.filter((i) => !i.finding).length)

async function found(finding: Found): Promise<void> {
  if (!item.value || job.frozen.value || entry.blocked.value) return
  contradicts.value = ''
  // What was just seen from close by is not in order without a word.
  if (finding === 'ok' && oddlySeen.value && !note.value.trim()) {
    contradicts.value = say('inspection-you-have-just-seen-something')
    await nextTick()
    document.getElementById('check-note')?.focus()
    return
  }
  const seen = note.value.trim() || (finding === 'ok' ? observed(item.value.item) : '')
  if (await entry.enter({ kind: 'looked_over', item: item.value.item, finding, note: seen, cells: cells.value })) {
    note.value = ''
    cells.value = ''
    chosen.value = null
    faulty.value = false
  } else if (entry.wrong('note')) {
    // A fault needs a word about what was seen; Enter then enters the fault.
    faulty.value = true
    await nextTick()
    document.getElementById('check-note')?.focus()
  }
}
/** What the live reading showed at an item in order goes on the record with it. */
function observed(at: string): string {
  const live = props.live
  if (!live) return ''
  if (at === 'push') return String(live.pushes.at(-1)?.says ?? '')
  if (at === 'corners') return String(live.rises ?? '')
  if (at === 'zero' && live.zero_held_s >= 10)
    return say('inspection-zero-held-for-floor-s', { floor: Math.floor(live.zero_held_s) })
  return ''
}
// At a practice scale eyes and hands are lent by the bench: what is found there, and mending it.
const sheetIsPractice = computed(() => Boolean(job.assessment.value?.sheet.practice))
const closely = ref('')
const oddlySeen = ref(false)
const contradicts = ref('')
watch(
  () => item.value?.item,
  () => {
    closely.value = ''
    oddlySeen.value = false
    contradicts.value = ''
    faulty.value = false
  },
)
async function operate(what: 'look at' | 'mend'): Promise<void> {
  try {
    const { seen, odd } = await operateScale(job.assessment.value?.sheet.id ?? '', `${what} ${item.value?.item ?? ''}`)
    closely.value = String(seen)
    oddlySeen.value = what === 'look at' && odd
    if (what === 'mend' && !reason.value) reason.value = String(seen)
  } catch (error) {
    closely.value = error instanceof Error ? error.message : String(error)
  }
}

const keys: Record<string, Found> = { '1': 'ok', '2': 'fault', '3': 'not_applicable' }
onKey('finding', (key) => {
  const finding = keys[key]
  if (!finding || item.value?.stops) return false
  void found(finding)
})
watch(chosen, () => (entry.failure.value = null))
</script>

<template>
  <WorkFrame stage="look_over" plain>
    <section v-if="item" class="stack">
      <div>
        <p class="quiet small">
          {{
            left
              ? $t('inspection-left-of-count-to-go', { left, count: items.length })
              : $t('inspection-all-count-looked-at', { count: items.length })
          }}
        </p>
        <h2 class="label" data-testid="check-label" aria-live="polite">{{ item.label }}</h2>
        <p class="look">{{ item.look }}</p>
        <p v-if="item.cells" class="small">{{ item.cells }}</p>
        <p class="quiet why">{{ item.why }}</p>
      </div>
      <WiringNotes v-if="item.item === 'cable'" />
      <WatchedItem v-if="live && !job.frozen.value" :item="item.item" :live="live" />
      <p v-if="practice && sheetIsPractice && !job.frozen.value" class="row tight">
        <Button type="button" @click="operate('look at')">{{ $t('inspection-look-closely') }}</Button><span
          v-if="closely"
          class="closely"
          role="status"
          data-testid="closely"
          >{{ closely }}</span
        >
      </p>
      <RefusalNote :failure="entry.general([])" />
      <template v-if="item.stops">
        <p class="note note-wrong">
          <strong>{{ $t('inspection-faultnote', { note: item.note ? `: ${item.note}` : '' }) }}</strong>
          {{ $t('inspection-adjusting-cannot-cure-it-it') }}
        </p>
        <FaultSettling :key="item.item" v-model="reason" :item="item.item" @settled="chosen = null">
          <Button v-if="practice && sheetIsPractice" type="button" @click="operate('mend')">{{
            $t('inspection-mend-it')
          }}</Button>
        </FaultSettling>
      </template>
      <form v-else-if="!job.frozen.value" class="stack" @submit.prevent="found(faulty ? 'fault' : 'ok')">
        <div class="row">
          <Button
            :type="faulty ? 'button' : 'submit'"
            :class="faulty ? 'tall' : 'btn-next'"
            :disabled="entry.blocked.value"
            @click="faulty && found('ok')"
            ><span class="figure">1</span> {{ item.words?.ok ?? $t('inspection-in-order') }}</Button
          >
          <Button
            type="button"
            :class="faulty ? 'btn-next' : 'tall'"
            :disabled="entry.blocked.value"
            @click="found('fault')"
            ><span class="figure">2</span> {{ item.words?.fault ?? $t('inspection-fault') }}</Button
          >
          <Button type="button" class="tall" :disabled="entry.blocked.value" @click="found('not_applicable')"
            ><span class="figure">3</span> {{ $t('inspection-not-applicable') }}</Button
          >
        </div>
        <div class="field">
          <label for="check-note">{{
            faulty ? $t('inspection-what-did-you-see') : (item.words?.note ?? $t('inspection-note-a-fault-needs-a'))
          }}</label>
          <InputText id="check-note" v-model="note" :aria-invalid="Boolean(entry.wrong('note'))" />
          <p v-if="contradicts || entry.wrong('note')" class="wrong" role="alert">
            {{ contradicts || entry.wrong('note') }}
          </p>
        </div>
        <div v-if="item.item === 'corners'" class="field">
          <label for="check-cells">{{ $t('inspection-counts-of-each-cell-where') }}</label>
          <InputText
            id="check-cells"
            v-model="cells"
            class="input figure"
            inputmode="numeric"
            :placeholder="$t('inspection-empty-platform-one-after-the')"
            :aria-invalid="Boolean(entry.wrong('cells'))"
          />
          <p v-if="entry.wrong('cells')" class="wrong" role="alert">{{ entry.wrong('cells') }}</p>
        </div>
      </form>
    </section>
    <template #side>
      <h2>{{ $t('inspection-checklist') }}</h2>
      <ul class="list">
        <CheckRow
          v-for="row in items"
          :key="row.item"
          :check="row"
          :current="row.item === item?.item"
          @choose="chosen = row.item"
        />
      </ul>
      <SimulatedControls v-if="practice && !job.frozen.value" />
    </template>
  </WorkFrame>
</template>

<style scoped>
.label {
  font-size: 1.7rem;
  margin: 0.2rem 0 0.6rem;
}
.look {
  font-size: 1.15rem;
}
.why {
  margin-top: 0.5rem;
}
.tall {
  min-height: 3.5rem;
}
.list {
  margin-top: 0.4rem;
}
.closely {
  font-style: italic;
}
</style>
