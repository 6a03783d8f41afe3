<script setup lang="ts">
import { computed } from 'vue'
import type { PlannedStep } from '../api/types'

// Pieces to put on or take off, those of one mass together.
const props = defineProps<{ label: string; pieces: PlannedStep['put']; fixed?: boolean }>()
defineEmits<{ bar: [id: string] }>()
const groups = computed(() => {
  const out: { mass: string; pieces: PlannedStep['put'] }[] = []
  for (const p of props.pieces) {
    const mass = `${p.nominal.value} ${p.nominal.unit}`
    const there = out.find((g) => g.mass === mass)
    if (there) there.pieces.push(p)
    else out.push({ mass, pieces: [p] })
  }
  return out
})
</script>

<template>
  <p class="list">
    <span class="label">{{ label }}</span>
    <span v-for="g in groups" :key="g.mass" class="group">
      <strong class="figure">{{ g.pieces.length > 1 ? `${g.pieces.length} × ` : '' }}{{ g.mass }}</strong>
      <span class="small">
        <template v-for="(p, i) in g.pieces" :key="p.id"><button v-if="!fixed" type="button" class="piece" :title="`${p.form}, ${p.place}: leave it aside and plan anew`" :aria-label="`Leave ${p.serial} aside`" @click="$emit('bar', p.id)">{{ p.serial }}</button><span v-else>{{ p.serial }}</span>{{ i < g.pieces.length - 1 ? ', ' : '' }}</template>
      </span>
    </span>
  </p>
</template>

<style scoped>
.list { display: flex; flex-wrap: wrap; gap: 0.2rem 1rem; align-items: baseline; }
.label { min-width: 4.2rem; color: var(--ink-2); }
.group { display: inline-flex; gap: 0.5rem; align-items: baseline; flex-wrap: wrap; }
.piece { font: inherit; background: none; border: none; padding: 0; color: inherit; text-decoration: underline dotted; cursor: pointer; min-height: 1.6rem; }
</style>
