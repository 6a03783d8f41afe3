<script setup lang="ts">
import { computed } from 'vue'
import type { Assessment } from '../api/types'
import { figure } from '../words'

// What was done between the readings: looked over, adjusted or left, closed.
const { assessment: a } = defineProps<{ assessment: Assessment }>()
const faults = computed(() => a.inspection.filter((c) => c.finding === 'fault'))
const seen = computed(() => a.inspection.filter((c) => c.finding && c.finding !== 'not_applicable').length)
</script>

<template>
  <div class="stack tight">
    <section>
      <h2>{{ $t('record-looked-over') }}</h2>
      <p class="small">
        {{
          $t('record-seen-items-order', {
            seen,
            order: faults.length
              ? $t('record-count-with-a-fault', { count: faults.length })
              : $t('record-all-in-order'),
          })
        }}
      </p>
      <ul class="small">
        <li v-for="f in faults" :key="f.item">
          {{ f.label }}: {{ f.note ?? $t('record-fault') }}; {{ f.settled ?? $t('record-open')
          }}{{ f.settled_says ? `: ${f.settled_says}` : '' }}
        </li>
      </ul>
    </section>
    <section v-if="a.adjust.saved">
      <h2>{{ $t('common-adjusted') }}</h2>
      <p v-if="a.adjust.earlier.length" class="small">
        {{ $t('record-before-it-what', { what: a.adjust.earlier.join('; ') }) }}
      </p>
      <p class="small">
        <template v-for="(l, i) in a.adjust.lines.filter((l) => l.figure)" :key="i"
          >{{ i ? '; ' : '' }}{{ l.label }} <span class="figure">{{ figure(String(l.figure)) }}</span>{{
            String(l.note ?? '') ? ` ${l.note}` : ''
          }}</template
        >.
      </p>
      <p v-if="a.adjust.against_last" class="small">{{ a.adjust.against_last }}</p>
    </section>
    <section v-else-if="a.adjust.left_alone">
      <h2>{{ $t('record-not-adjusted') }}</h2>
      <p class="small">{{ a.adjust.left_alone }}</p>
    </section>
    <section>
      <h2>{{ $t('common-closed') }}</h2>
      <p class="small">
        {{ a.close.seals ? $t('record-seals-seals', { seals: a.close.seals }) + ' ' : $t('record-no-seals-named') + ' '
        }}{{ a.close.switch_back ? $t('record-switch-back-cover-on') + ' ' : ''
        }}{{ a.close.locked ? $t('record-set-up-locked') : '' }}
      </p>
    </section>
  </div>
</template>
