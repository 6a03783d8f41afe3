<script setup lang="ts">
import { figure } from '../words'
import { computed } from 'vue'
import type { Assessment } from '../api/types'
import { rounded, massText } from '../ui/format'

// What the figures rest on: tests beside the loads, uncertainty, weights, reservations, pictures.
const { assessment: a } = defineProps<{ assessment: Assessment }>()
const tests = computed(() =>
  [...a.proof.tests, ...(a.proof.tests.some((t) => t.done) ? [] : a.as_found.tests)].filter((t) => t.done > 0),
)
</script>

<template>
  <section v-if="tests.length">
    <h2>{{ $t('record-tests') }}</h2>
    <ul class="small">
      <li v-for="t in tests" :key="`${t.pad}${t.test}`">
        <strong>{{ t.label }}{{ (a.sheet.pads ?? 1) > 1 ? $t('common-pad-pad', { pad: t.pad }) : '' }}:</strong>
        {{ t.says
        }}<template v-if="t.positions.length"
          >{{ ' '
          }}{{
            t.positions
              .filter((s) => s.shown_text)
              .map((s) => `${s.place} ${figure(s.error_text ?? '')}`)
              .join('; ')
          }}.</template
        ><template v-if="t.series.length"
          >{{ ' ' }}{{ t.series.map((s) => figure(s.shown_text)).join(', ') }}.</template
        >
      </li>
    </ul>
  </section>
  <section v-if="a.largest_u">
    <h2>{{ $t('budget-bars-uncertainty') }}</h2>
    <p class="small">
      U = <span class="figure">{{ figure(a.largest_u.expanded_text) }}</span> {{ $t('record-at-the-most-k') }}
      <span class="figure">{{ rounded(a.largest_u.k, 2) }}</span>
      {{ $t('record-for-about-95-decision-rule', { label: a.decision.label, what: a.largest_u.notes.join(' ') }) }}
    </p>
  </section>
  <section v-if="a.weights_used.length">
    <h2>{{ $t('common-weights') }}</h2>
    <p class="small">
      <template v-for="(w, i) in a.weights_used" :key="w.id"
        >{{ i ? '; ' : '' }}<span class="figure">{{ massText(w.nominal) }}</span> {{ w.serial }} ({{
          w.reference
            ? $t('record-weighed-record-reference', { reference: w.reference })
            : [w.class, w.certificate, w.due && $t('record-due-due', { due: w.due })].filter(Boolean).join(', ')
        }})</template
      >
    </p>
  </section>
  <section v-if="a.reservations.length || a.close.remarks.length">
    <h2>{{ $t('record-to-be-noted') }}</h2>
    <ul class="small">
      <li v-for="t in [...a.reservations, ...a.close.remarks]" :key="String(t)">{{ t }}</li>
    </ul>
  </section>
  <section v-if="a.files.some((f) => f.on_record)">
    <h2>{{ $t('common-photos-and-files') }}</h2>
    <ul class="row pictures">
      <li v-for="f in a.files.filter((f) => f.on_record)" :key="f.id" class="small">
        <a :href="`/api/files/${f.id}`" target="_blank" rel="noopener"
          ><img v-if="f.media.startsWith('image/')" :src="`/api/files/${f.id}`" :alt="f.caption || f.name" /><span
            v-else
            >{{ f.name }}</span
          ></a
        ><br />{{ f.caption || f.name }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
.pictures img {
  max-width: 14rem;
  max-height: 10rem;
}
</style>
