<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import Select from 'primevue/select'
import { v7 as uuidv7 } from 'uuid'
import { computed, reactive, ref } from 'vue'
import { attachCertificate, keepPiece, useOwnClasses } from '../api/kit'
import type { Piece, PieceView, Unit } from '../api/types'
import { useVocabulary } from '../api/scales'
import { useResting } from '../api/history'
import { dayText, plain } from '../ui/format'
import { useTried } from '../state/tried'
import FileList from '../ui/FileList.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

const props = defineProps<{ found: PieceView | null; works: boolean }>()
const emit = defineEmits<{ close: [] }>()
const { data: words } = useVocabulary()
const piece = props.found?.piece
const last = piece?.certificates?.at(-1)
const form = reactive({
  serial: piece?.serial ?? '',
  nominal: piece?.nominal.value ?? '',
  unit: (piece?.nominal.unit ?? 'kg') as Unit,
  class: (piece?.class ?? piece?.own?.class ?? '') as string,
  form: (piece?.form ?? 'block') as Piece['form'],
  set: piece?.set ?? '',
  place: piece?.place ?? '',
  holder: piece?.holder ?? '',
  damaged: piece?.damaged ?? false,
  number: last?.number ?? '',
  laboratory: last?.laboratory ?? '',
  date: last?.date ?? '',
  due: last?.due ?? '',
  error: last?.error?.value ?? '',
  U: last?.U?.value ?? '',
  k: last?.k ?? '',
})
const { data: ownClasses } = useOwnClasses()
// The server gives it the tolerance that the class has for this nominal.
const own = computed(() => ownClasses.value?.find((c) => c.name === form.class))
// Whom to call if this piece is found wrong.
const asked = ref(false)
const recall = useResting(piece?.id ?? '', asked)
const resting = computed(() => recall.data.value?.pages.flatMap((p) => p.records))
const total = computed(() => recall.data.value?.pages[0]?.total ?? 0)
const file = ref<File | null>(null)
const { general, tried, wrong } = useTried()
const fields = ['serial', 'nominal', 'class', 'certificate', 'date', 'due', 'error', 'U', 'k']
const earlier = computed(() => piece?.certificates?.slice(0, last?.number === form.number ? -1 : undefined) ?? [])
const mg = (text: string) => (text.trim() ? { value: plain(text), unit: 'mg' as Unit } : null)

async function keep(): Promise<void> {
  const certificate = form.number.trim()
    ? {
        number: form.number.trim(),
        laboratory: form.laboratory,
        date: form.date,
        due: form.due,
        error: mg(form.error),
        U: mg(form.U),
        k: form.k.trim() ? plain(form.k) : null,
      }
    : null
  const made: Piece = {
    id: piece?.id ?? uuidv7(),
    serial: form.serial.trim(),
    nominal: { value: plain(form.nominal), unit: form.unit },
    class: (own.value ? null : form.class || null) as Piece['class'],
    own: own.value ? { class: own.value.name, mpe: own.value.rows[0]!.mpe } : null,
    reference: piece?.reference ?? null,
    form: form.form,
    set: form.set,
    place: form.place,
    holder: form.holder,
    damaged: form.damaged,
    certificates: certificate ? [...earlier.value, certificate] : earlier.value,
  }
  const done = await tried(async () => {
    await keepPiece(made, props.found?.version ?? 0)
    if (file.value && certificate) await attachCertificate(made.id, certificate.number, file.value)
  })
  if (done) emit('close')
}
</script>

<template>
  <Dialog
    :visible="true"
    modal
    :header="found ? `${form.nominal} ${form.unit}, ${form.serial}` : $t('piece-form-new-piece')"
    class="wide-dialog"
    @update:visible="$emit('close')"
  >
    <form class="stack tight" @submit.prevent="keep">
      <RefusalNote :failure="general(fields)" />
      <div class="grid">
        <TextField
          id="p-serial"
          v-model="form.serial"
          :label="$t('instrument-list-serial-or-mark')"
          :wrong="wrong('serial')"
          figure
        />
        <TextField
          id="p-nominal"
          v-model="form.nominal"
          :label="$t('common-nominal')"
          :wrong="wrong('nominal')"
          figure
        />
        <div class="field">
          <span class="label">{{ $t('common-unit') }}</span><Select
            v-model="form.unit"
            :aria-label="$t('piece-form-unit-of-the-nominal')"
            :options="words?.units ?? []"
          />
        </div>
        <div class="field">
          <span class="label">{{ $t('common-class') }}</span><Select
            v-model="form.class"
            :aria-label="$t('piece-form-class-of-the-weight')"
            :placeholder="$t('piece-form-by-certificate')"
            :options="['', ...(words?.weight_classes ?? []), ...(ownClasses ?? []).map((c) => c.name)]"
          />
          <p v-if="wrong('class')" class="wrong" role="alert">{{ wrong('class') }}</p>
        </div>
        <div class="field">
          <span class="label">{{ $t('piece-form-form') }}</span><Select
            v-model="form.form"
            :aria-label="$t('piece-form-form')"
            :options="words?.forms ?? []"
            option-label="label"
            option-value="value"
          />
        </div>
        <TextField id="p-set" v-model="form.set" :label="$t('piece-form-set')" />
        <TextField id="p-place" v-model="form.place" :label="$t('common-place')" />
        <TextField id="p-holder" v-model="form.holder" :label="$t('piece-form-who-has-it')" />
        <label class="check"><input v-model="form.damaged" type="checkbox" /> {{ $t('piece-form-damaged') }}</label>
      </div>
      <h2>
        {{ $t('common-certificate')
        }}<span v-if="earlier.length" class="small quiet">
          {{ $t('piece-form-after-what', { what: earlier.map((c) => c.number).join(', ') }) }}</span
        >
      </h2>
      <div class="grid">
        <TextField
          id="p-number"
          v-model="form.number"
          :label="$t('piece-form-number-another-one-adds-to')"
          :wrong="wrong('certificate')"
        />
        <TextField id="p-laboratory" v-model="form.laboratory" :label="$t('common-laboratory')" />
        <TextField
          id="p-date"
          v-model="form.date"
          :label="$t('piece-form-date-2026-11-24')"
          :wrong="wrong('date')"
          figure
        />
        <TextField id="p-due" v-model="form.due" :label="$t('common-due')" :wrong="wrong('due')" figure />
        <TextField
          id="p-error"
          v-model="form.error"
          :label="$t('piece-form-conventional-mass-nominal-mg')"
          :wrong="wrong('error')"
          figure
        />
        <TextField id="p-U" v-model="form.U" label="U, mg" :wrong="wrong('U')" figure />
        <TextField id="p-k" v-model="form.k" label="k" :wrong="wrong('k')" figure />
        <div class="field">
          <label for="p-file">{{ $t('piece-form-its-file') }}</label><input
            id="p-file"
            class="input"
            type="file"
            @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null"
          />
        </div>
      </div>
      <div v-if="works" class="row">
        <Button type="submit" class="btn-next">{{ $t('piece-form-save') }}</Button><Button
          type="button"
          class="btn-bare"
          @click="$emit('close')"
          >{{ $t('common-leave-it') }}</Button
        >
      </div>
    </form>
    <FileList v-if="piece" :id="piece.id" of="piece" />
    <section v-if="piece" class="recall">
      <button v-if="!asked" type="button" class="btn btn-bare" @click="asked = true">
        {{ $t('piece-form-which-records-rest-on-it') }}
      </button>
      <p v-else-if="recall.error.value" class="wrong" role="alert">{{ recall.error.value.message }}</p>
      <p v-else-if="!resting" class="small quiet" role="status">{{ $t('common-looking') }}</p>
      <p v-else-if="!resting.length" class="small quiet">{{ $t('piece-form-no-record-names-this-piece') }}</p>
      <template v-else>
        <p class="row">
          <strong>{{ $t('piece-form-total-rest-on-it', { total }) }}</strong>
          <a class="btn" :href="`/api/kit/${piece.id}/recall`" download>{{ $t('piece-form-the-whole-list-as-a') }}</a>
        </p>
        <ul class="small" data-testid="recall">
          <li v-for="r in resting" :key="r.job">
            <RouterLink class="figure" :to="{ name: 'record', params: { job: r.job } }">{{ r.number }}</RouterLink>
            {{ dayText(r.closed_at) }}: {{ r.scale }}, {{ r.owner
            }}{{ r.certificate ? $t('piece-form-then-with-certificate', { certificate: r.certificate }) : '' }}
          </li>
        </ul>
        <button
          v-if="recall.hasNextPage.value"
          type="button"
          class="btn"
          :disabled="recall.isFetchingNextPage.value"
          @click="recall.fetchNextPage()"
        >
          {{ $t('piece-form-count-more', { count: total - resting.length }) }}
        </button>
      </template>
    </section>
  </Dialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.5rem 1rem;
  align-items: end;
}
</style>
