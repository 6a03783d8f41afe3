<script setup lang="ts">
import { computed, ref } from 'vue'
import type { PlannedStep } from '../../api/types'

// Pieces to put on or take off, those of one mass together. A piece can be left aside or changed for
// another of its mass; the plan is then made anew.
type Pieces = PlannedStep['put']
const props = defineProps<{ label: string; pieces: Pieces; idle?: Pieces; fixed?: boolean }>()
const emit = defineEmits<{ bar: [id: string]; swap: [out: string, into: string] }>()
const asked = ref<string | null>(null)
const chosen = computed(() => props.pieces.find((p) => p.id === asked.value))
const others = computed(() =>
  (props.idle ?? []).filter(
    (p) => p.nominal.value === chosen.value?.nominal.value && p.nominal.unit === chosen.value?.nominal.unit,
  ),
)
const groups = computed(() => {
  const out: { mass: string; pieces: Pieces }[] = []
  for (const p of props.pieces) {
    const mass = `${p.nominal.value} ${p.nominal.unit}`
    const there = out.find((g) => g.mass === mass)
    if (there) there.pieces.push(p)
    else out.push({ mass, pieces: [p] })
  }
  return out
})
function done(what: () => void): void {
  what()
  asked.value = null
}
</script>

<template>
  <div class="list">
    <span class="label">{{ label }}</span>
    <span v-for="g in groups" :key="g.mass" class="group">
      <strong class="figure">{{ g.pieces.length > 1 ? `${g.pieces.length} × ` : '' }}{{ g.mass }}</strong>
      <span class="small">
        <template v-for="(p, i) in g.pieces" :key="p.id"
          ><button
            v-if="!fixed"
            type="button"
            class="piece"
            :title="`${p.form}, ${p.place}`"
            :aria-label="$t('piece-list-change-serial', { serial: p.serial })"
            :aria-expanded="asked === p.id"
            @click="asked = asked === p.id ? null : p.id"
          >
            {{ p.serial }}</button
          ><span v-else>{{ p.serial }}</span
          >{{ i < g.pieces.length - 1 ? ', ' : '' }}</template
        >
      </span>
    </span>
    <div
      v-if="chosen && label === 'put on'"
      class="choose"
      role="group"
      :aria-label="$t('piece-list-what-to-do-with-serial', { serial: chosen.serial })"
    >
      <button type="button" class="btn" @click="done(() => emit('bar', chosen!.id))">
        {{ $t('piece-list-leave-serial-aside', { serial: chosen.serial }) }}
      </button>
      <button
        v-for="o in others.slice(0, 6)"
        :key="o.id"
        type="button"
        class="btn"
        @click="done(() => emit('swap', chosen!.id, o.id))"
      >
        {{ $t('piece-list-take-serial-instead', { serial: o.serial }) }}
      </button>
      <span v-if="!others.length" class="small quiet">{{
        $t('piece-list-no-other-of-nominal-unit', { nominal: chosen.nominal.value, unit: chosen.nominal.unit })
      }}</span>
    </div>
  </div>
</template>

<style scoped>
.list {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  align-items: baseline;
}
.label {
  min-width: 4.2rem;
  color: var(--ink-2);
}
.group {
  display: inline-flex;
  gap: 0.5rem;
  align-items: baseline;
  flex-wrap: wrap;
}
.piece {
  font: inherit;
  background: none;
  border: none;
  padding: 0;
  color: inherit;
  text-decoration: underline dotted;
  cursor: pointer;
  min-height: 1.6rem;
}
.piece[aria-expanded='true'] {
  font-weight: 700;
  text-decoration: underline;
}
.choose {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: center;
  padding: 0.2rem 0 0.4rem;
}
</style>
