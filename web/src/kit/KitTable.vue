<script setup lang="ts">
import type { PieceView } from '../api/types'
import { certificateHere, certificatePath } from '../offline/along'
import { connection } from '../offline/connection'
import { dayText, massText } from '../ui/format'
import { vCards } from '../ui/cards'

// Every piece with its certificate, and whether it may be used today.
const chosen = defineModel<string[]>({ required: true })
const { rows } = defineProps<{ rows: PieceView[]; works: boolean }>()
const emit = defineEmits<{ edit: [piece: PieceView] }>()
function all(event: Event): void {
  chosen.value = (event.target as HTMLInputElement).checked ? rows.map((r) => r.piece.id) : []
}
const last = (r: PieceView) => r.piece.certificates?.at(-1)

/** Without a network the certificate that was taken along is opened. */
async function fromHere(event: Event, piece: string, number: string): Promise<void> {
  if (connection.answers.value) return
  event.preventDefault()
  const address = await certificateHere(piece, number)
  if (address) window.open(address, '_blank')
}
</script>

<template>
  <div class="scroll">
    <table v-cards>
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
          <td class="figure right">{{ massText(r.piece.nominal) }}</td>
          <td>
            <button type="button" class="link figure" @click="emit('edit', r)">{{ r.piece.serial }}</button>
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
              :href="certificatePath(r.piece.id, last(r)!.number)"
              download
              @click="fromHere($event, r.piece.id, last(r)!.number)"
            >
              {{ $t('weights-file') }}</a
            >
          </td>
          <td class="figure right small">
            {{
              r.piece.reference
                ? `u ${r.piece.reference.u.value} ${r.piece.reference.u.unit}`
                : last(r)?.error
                  ? massText(last(r)!.error!)
                  : $t('weights-by-class')
            }}<template v-if="last(r)?.U">, {{ massText(last(r)!.U!) }} ({{ last(r)!.k }})</template
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
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
td {
  padding-top: 0.1rem;
  padding-bottom: 0.1rem;
}
@media (min-width: 40.01rem) {
  td:nth-child(3),
  td:nth-child(4) {
    padding-left: 0.6rem;
  }
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
