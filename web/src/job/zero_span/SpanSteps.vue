<script setup lang="ts">
import type { Assessment } from '../../api/types'

defineProps<{ view: Assessment['adjust']; step: string }>()
</script>

<template>
  <section>
    <h2>
      {{ $t('span-steps-zero-and-span')
      }}<template v-if="view.pads.length">{{ $t('common-pad-pad', { pad: view.pad }) }}</template>
    </h2>
    <ol v-if="view.pads.length" class="pads small">
      <li v-for="p in view.pads" :key="p.pad" :class="{ done: p.done, here: p.pad === view.pad && !view.saved }">
        <strong>{{ $t('span-steps-pad-pad', { pad: p.pad }) }}</strong> {{ p.says }}
      </li>
    </ol>
    <table>
      <tbody>
        <tr v-for="(l, i) in view.lines" :key="i" :class="{ now: l.part === step }">
          <th scope="row">{{ l.label }}</th>
          <td class="figure right" :class="{ digits: l.part === 'digits' }">{{ l.figure ?? '–' }}</td>
          <td class="small quiet">{{ l.note }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="view.earlier.length" class="small quiet" data-testid="earlier">
      {{ $t('span-steps-before-it-in-this-job', { what: view.earlier.join('; ') }) }}
    </p>
  </section>
</template>

<style scoped>
.now th,
.now td {
  background: var(--shade-2);
}
.pads {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.2rem 1rem;
  padding: 0.4rem 0;
}
.pads .here {
  border-left: 4px solid var(--next);
  padding-left: 0.5rem;
}
.pads .done {
  color: var(--ink-2);
}
.digits {
  font-size: 1.3rem;
  letter-spacing: 0.12em;
  font-weight: 650;
}
</style>
