<script setup lang="ts">
import Button from 'primevue/button'
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { packDay } from '../api/kit'
import type { PackingList } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { useTried } from '../state/tried'
import { massText, told } from '../ui/format'
import ScalePicker from './ScalePicker.vue'

// Scales that were ticked on the board of due dates come along.
const route = useRoute()
const brought = typeof route.query.scales === 'string' ? route.query.scales.split(',').filter(Boolean) : []
const chosen = ref<string[]>(brought)
const names = ref<Record<string, string>>({})
const days = ref('1')
const list = ref<PackingList | null>(null)
const { failure, busy, tried } = useTried()
const print = () => window.print()

// Another choice is another list.
watch(chosen, () => (list.value = null))
async function pack(): Promise<void> {
  await tried(async () => void (list.value = await packDay(chosen.value, Number(days.value) || 0)))
}
</script>

<template>
  <main id="main" class="day">
    <section class="pick stack tight no-print">
      <h1>{{ $t('route-a-day-s-round') }}</h1>
      <ScalePicker v-model="chosen" @named="Object.assign(names, $event)" />
      <div class="row">
        <Button type="button" class="btn-next" :disabled="busy" @click="pack">{{
          busy ? $t('route-packing') : $t('route-pack-for-no-scales', { no: chosen.length })
        }}</Button><label class="row tight"
          >{{ $t('route-in') }}
          <input
            v-model="days"
            class="input figure days"
            inputmode="numeric"
            :aria-label="$t('route-days-from-today')"
          />
          {{ $t('route-days') }}</label
        >
      </div>
      <RefusalNote :failure="failure" />
    </section>
    <section class="list stack" aria-live="polite">
      <template v-if="list">
        <div class="row">
          <h2 class="head">{{ $t('route-packing-list') }}</h2>
          <span class="push"></span
          ><RouterLink class="btn no-print" :to="{ name: 'along', query: { scales: chosen.join(',') } }">{{
            $t('route-take-them-along')
          }}</RouterLink
          ><button type="button" class="btn no-print" @click="print">{{ $t('common-print') }}</button>
        </div>
        <p class="figure sum" data-testid="pack-sum">
          {{ $t('route-mass-kg-in-pieces-pieces', { mass: told(list.mass.value), pieces: list.pieces }) }}
        </p>
        <p class="small quiet">
          {{
            $t('route-for-what-no-piece-of', {
              what: chosen.map((id) => names[id]).join(', '),
              what2:
                Number(list.gap.value) === 0
                  ? $t('route-and-no-set-is-lighter')
                  : $t('route-the-lightest-set-there-is', { gap: told(list.gap.value) }),
            })
          }}
        </p>
        <p v-for="t in list.lacks" :key="String(t)" class="note note-wrong">{{ t }}</p>
        <p v-for="t in list.clashes" :key="String(t)" class="note note-caution">{{ t }}</p>
        <p v-for="t in list.due" :key="String(t)" class="note note-caution">{{ t }}</p>
        <div class="places">
          <section v-for="p in list.places" :key="p.place">
            <h3>
              {{ p.place || $t('due-no-place-named') }}
              <span class="figure small quiet">{{ told(p.mass.value) }} kg</span>
            </h3>
            <ul class="small">
              <li v-for="piece in p.pieces" :key="piece.id" class="tick">
                <span class="box" aria-hidden="true"></span><span class="figure">{{ massText(piece.nominal) }}</span>
                {{ piece.serial }}
                <span class="quiet">{{ piece.form }}</span>
              </li>
            </ul>
          </section>
        </div>
        <section>
          <h3>{{ $t('route-certificates-to-carry') }}</h3>
          <p class="small">{{ list.certificates.join('; ') || $t('common-none') }}</p>
        </section>
      </template>
      <p v-else class="quiet">
        {{ $t('route-choose-the-scales-of-a') }}
      </p>
    </section>
  </main>
</template>

<style scoped>
.day {
  display: grid;
  grid-template-columns: minmax(20rem, 1fr) minmax(0, 1.4fr);
  flex: 1;
}
.pick {
  padding: 1rem 1.25rem;
}
.days {
  width: 4rem;
}
.list {
  padding: 1rem 1.5rem;
  background: var(--sheet);
  border-left: 1px solid var(--rule);
}
.sum {
  font-size: 1.6rem;
  font-weight: 650;
}
.places {
  columns: 2;
  column-gap: 2rem;
}
.places section {
  break-inside: avoid;
  margin-bottom: 1rem;
}
.tick {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  padding: 0.1rem 0;
}
.box {
  width: 0.9rem;
  height: 0.9rem;
  border: 1.5px solid var(--ink-2);
  flex: none;
}
@media (max-width: 56rem) {
  .day {
    grid-template-columns: 1fr;
  }
  .list {
    border-left: none;
    border-top: 1px solid var(--rule);
  }
}
@media print {
  .day {
    display: block;
  }
  .list {
    border: none;
    padding: 0;
  }
}
</style>
