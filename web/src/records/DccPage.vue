<script setup lang="ts">
import { massText } from '../ui/format'
import { say } from '../words'
import { ref } from 'vue'
import { readDcc } from '../api/papers'
import type { Dcc } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { useTried } from '../state/tried'

// A digital calibration certificate as people read it, whoever made it. Nothing is stored.
const dcc = ref<Dcc | null>(null)
const name = ref('')
const { failure, busy, tried } = useTried()

async function picked(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  dcc.value = null
  name.value = file.name
  await tried(async () => void (dcc.value = await readDcc(file)))
}
const conforms = (d: Dcc) =>
  d.conforms === null ? say('dcc-not-stated') : d.conforms ? say('dcc-conforms') : say('dcc-does-not-conform')
</script>

<template>
  <main id="main" class="dcc stack">
    <h1>{{ $t('common-read-a-digital-certificate') }}</h1>
    <p class="quiet lead">
      {{ $t('dcc-a-dcc-version-3-as') }}
    </p>
    <div class="row">
      <label class="btn" :class="{ 'btn-next': !dcc, off: busy }"
        >{{ dcc || failure ? $t('dcc-another-file') : $t('dcc-choose-the-file')
        }}<input
          class="sr-only"
          type="file"
          accept=".xml,application/xml,text/xml"
          :disabled="busy"
          @change="picked" /></label
      ><span v-if="busy" role="status">{{ $t('dcc-reading') }}</span
      ><span v-else-if="name" class="quiet">{{ name }}</span>
    </div>
    <section v-if="failure" class="refused"><RefusalNote :failure="failure" /></section>
    <article v-if="dcc" class="stack" data-testid="dcc">
      <header class="row">
        <h2>
          {{ $t('common-certificate') }} <span class="figure">{{ dcc.number }}</span>
        </h2>
        <span class="push"></span><strong>{{ conforms(dcc) }}</strong>
      </header>
      <dl>
        <div>
          <dt>{{ $t('dcc-calibrated') }}</dt>
          <dd>{{ dcc.item }}</dd>
        </div>
        <div>
          <dt>{{ $t('common-serial') }}</dt>
          <dd class="figure">{{ dcc.serial || '–' }}</dd>
        </div>
        <div>
          <dt>{{ $t('dcc-work-done') }}</dt>
          <dd>
            {{ dcc.begun === dcc.ended ? dcc.begun : $t('dcc-begun-to-ended', { begun: dcc.begun, ended: dcc.ended }) }}
          </dd>
        </div>
        <div>
          <dt>{{ $t('common-place') }}</dt>
          <dd>{{ dcc.place || '–' }}</dd>
        </div>
        <div>
          <dt>{{ $t('common-laboratory') }}</dt>
          <dd>{{ dcc.laboratory }} ({{ dcc.country }})</dd>
        </div>
        <div>
          <dt>{{ $t('common-customer') }}</dt>
          <dd>{{ dcc.customer }}</dd>
        </div>
        <div>
          <dt>{{ $t('dcc-responsible') }}</dt>
          <dd>{{ dcc.people.map((p) => `${p.name}, ${p.role}`).join('; ') || '–' }}</dd>
        </div>
        <div>
          <dt>{{ $t('dcc-written-by') }}</dt>
          <dd>{{ dcc.software }}</dd>
        </div>
      </dl>
      <section v-for="r in dcc.results" :key="r.name">
        <h2>{{ r.name }}</h2>
        <table class="results">
          <thead>
            <tr>
              <th v-for="s in r.series" :key="s.name" scope="col" class="right">{{ s.name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(_, i) in r.series[0]?.values ?? []" :key="i">
              <td v-for="s in r.series" :key="s.name" class="figure right">
                {{ s.values[i]?.value }} {{ s.values[i]?.unit
                }}<template v-if="s.expanded[i]"> ± {{ massText(s.expanded[i]) }} (k = {{ s.k[i] }})</template>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="dcc.influences.length">
        <h2>{{ $t('dcc-around-it') }}</h2>
        <p>{{ dcc.influences.map((i) => `${i.name} ${i.value} ${i.unit}`).join('; ') }}</p>
      </section>
      <section v-if="dcc.equipment.length">
        <h2>{{ $t('dcc-weights-and-equipment') }}</h2>
        <table>
          <tbody>
            <tr v-for="e in dcc.equipment" :key="`${e.name}${e.mark}`">
              <td>{{ e.name }}</td>
              <td class="figure">{{ e.mark }}</td>
              <td>{{ e.certificate ?? $t('dcc-no-certificate-named') }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="dcc.methods.length || dcc.statements.length">
        <h2>{{ $t('dcc-methods-and-statements') }}</h2>
        <ul>
          <li v-for="t in [...dcc.methods, ...dcc.statements]" :key="t">{{ t }}</li>
        </ul>
      </section>
    </article>
  </main>
</template>

<style scoped>
.dcc {
  padding: 1rem 1.25rem 2rem;
  max-width: 68rem;
}
.lead {
  max-width: 46rem;
}
dl {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.6rem 1.2rem;
}
dt {
  font-size: 0.8rem;
  color: var(--ink-2);
}
.refused {
  overflow-wrap: anywhere;
}
.results {
  table-layout: fixed;
}
header {
  border-bottom: 2px solid var(--ink);
  padding-bottom: 0.4rem;
}
label.btn:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
.off {
  opacity: 0.5;
}
</style>
