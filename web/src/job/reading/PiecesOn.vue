<script setup lang="ts">
import { massText } from '../../ui/format'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useKit } from '../../api/kit'
import type { ListedLoad } from '../../api/types'
import PieceList from './PieceList.vue'

// The pieces that make the load: those of the list, or any that are named by hand. What stands on the
// platform goes along from load to load.
type Piece = ListedLoad['pieces'][number]
const pieces = defineModel<Piece[]>({ required: true })
const props = defineProps<{ put: Piece[]; take: Piece[]; unit: string }>()
const emit = defineEmits<{ changed: [] }>()
const changing = ref(false)
const { data: kit } = useKit('')
const on = computed(() => new Set(pieces.value.map((p) => p.id)))
const free = computed(() =>
  (kit.value ?? []).filter((row) => row.usable.is !== 'no' && !on.value.has(row.piece.id)).map((row) => row.piece),
)
const picked = ref('')
function putOn(): void {
  const piece = free.value.find((p) => p.id === picked.value)
  picked.value = ''
  if (!piece) return
  pieces.value = [
    ...pieces.value,
    {
      id: piece.id,
      serial: piece.serial,
      nominal: piece.nominal,
      place: piece.place ?? '',
      form: piece.form ?? '',
      drawn: 0,
    },
  ]
  emit('changed')
}
function takeOff(id: string): void {
  pieces.value = pieces.value.filter((p) => p.id !== id)
  emit('changed')
}
const moves = computed(() => !changing.value && (props.put.length > 0 || props.take.length > 0))
</script>

<template>
  <div class="pieces stack tight" data-testid="named-pieces">
    <PieceList v-if="moves && take.length" :label="$t('common-take-off')" :pieces="take" fixed />
    <PieceList v-if="moves && put.length" :label="$t('pieces-on-put-on')" :pieces="put" fixed />
    <div class="row tight small">
      <PieceList
        v-if="pieces.length && !(moves && put.length === pieces.length)"
        :label="$t('pieces-on-on-it')"
        :pieces="pieces"
        fixed
      />
      <span v-else-if="!pieces.length" class="quiet">{{ $t('pieces-on-no-pieces-named') }}</span>
      <button
        type="button"
        class="btn btn-bare push"
        :aria-expanded="changing"
        data-testid="change-pieces"
        @click="changing = !changing"
      >
        {{ changing ? $t('pieces-on-done') : $t('pieces-on-change-pieces') }}
      </button>
    </div>
    <div v-if="changing" class="row tight small">
      <button v-for="p in pieces" :key="p.id" type="button" class="btn" @click="takeOff(p.id)">
        {{
          $t('pieces-on-take-off-serial-nominal-unit', {
            serial: p.serial,
            nominal: p.nominal.value,
            unit: p.nominal.unit,
          })
        }}
      </button>
      <select v-model="picked" class="input short" :aria-label="$t('pieces-on-piece-to-put-on')" @change="putOn">
        <option value="">{{ $t('pieces-on-put-on-2') }}</option>
        <option v-for="p in free" :key="p.id" :value="p.id">{{ massText(p.nominal) }}, {{ p.serial }}</option>
      </select>
      <Button v-if="pieces.length" type="button" @click="((pieces = []), emit('changed'))">{{
        $t('pieces-on-name-none')
      }}</Button>
    </div>
  </div>
</template>

<style scoped>
.pieces {
  border-left: 4px solid var(--shade);
  padding: 0.1rem 0 0.1rem 0.7rem;
}
.short {
  width: 16rem;
}
</style>
