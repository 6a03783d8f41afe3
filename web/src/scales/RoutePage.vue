<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { packDay } from '../api/kit'
import { useScales } from '../api/scales'
import type { PackingList } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { refDebounced } from '../state/small'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'

const search = ref('')
const asked = refDebounced(search, 120)
const scales = useScales(asked)
const rows = computed(() => scales.data.value?.pages.flatMap((p) => p.scales) ?? [])
// Scales that were ticked on the board of due dates come along.
const route = useRoute()
const brought = typeof route.query.scales === 'string' ? route.query.scales.split(',').filter(Boolean) : []
const chosen = ref<string[]>(brought)
const names = ref<Record<string, string>>({})
const days = ref('1')
const list = ref<PackingList | null>(null)
const { failure, busy, tried } = useTried()
const print = () => window.print()

watch(rows, (now) => now.forEach((r) => (names.value[r.sheet.id] ??= r.sheet.name)), { immediate: true })

function pick(id: string, name: string): void {
  names.value[id] = name
  list.value = null
}
async function pack(): Promise<void> {
  await tried(async () => void (list.value = await packDay(chosen.value, Number(days.value) || 0)))
}
</script>

<template>
  <main id="main" class="day">
    <section class="pick stack tight no-print">
      <h1>A day's round</h1>
      <InputText v-model="search" type="search" placeholder="Name, owner, place" aria-label="Search among the scales" />
      <ul class="scales">
        <li v-for="row in rows" :key="row.sheet.id">
          <label class="check"
            ><input
              v-model="chosen"
              type="checkbox"
              :value="row.sheet.id"
              @change="pick(row.sheet.id, row.sheet.name)"
            /><span
              ><strong>{{ row.sheet.name }}</strong>
              <span class="quiet">{{ row.sheet.owner }}, {{ row.sheet.place }}</span
              ><br /><span class="small quiet">{{
                row.next_due ? `due ${dayText(row.next_due)}` : 'no record yet'
              }}</span></span
            ></label
          >
        </li>
      </ul>
      <div class="row">
        <Button type="button" class="btn-next" :disabled="busy" @click="pack">{{
          busy ? 'Packing …' : `Pack for ${chosen.length || 'no'} scale${chosen.length === 1 ? '' : 's'}`
        }}</Button><label class="row tight"
          >in
          <input v-model="days" class="input figure days" inputmode="numeric" aria-label="Days from today" />
          days</label
        >
      </div>
      <RefusalNote :failure="failure" />
    </section>
    <section class="list stack" aria-live="polite">
      <template v-if="list">
        <div class="row">
          <h2 class="head">Packing list</h2>
          <span class="push"></span><button type="button" class="btn no-print" @click="print">Print</button>
        </div>
        <p class="figure sum" data-testid="pack-sum">{{ list.mass.value }} kg in {{ list.pieces }} pieces</p>
        <p class="small quiet">
          For {{ chosen.map((id) => names[id]).join(', ') }}. No piece of it can be left at home without losing a load{{
            Number(list.gap.value) === 0
              ? ', and no set is lighter'
              : `; the lightest set there is may be up to ${list.gap.value} kg lighter`
          }}.
        </p>
        <p v-for="t in list.lacks" :key="t" class="note note-wrong">{{ t }}</p>
        <p v-for="t in list.clashes" :key="t" class="note note-caution">{{ t }}</p>
        <p v-for="t in list.due" :key="t" class="note note-caution">{{ t }}</p>
        <div class="places">
          <section v-for="p in list.places" :key="p.place">
            <h3>
              {{ p.place || 'no place named' }} <span class="figure small quiet">{{ p.mass.value }} kg</span>
            </h3>
            <ul class="small">
              <li v-for="piece in p.pieces" :key="piece.id" class="tick">
                <span class="box" aria-hidden="true"></span
                ><span class="figure">{{ piece.nominal.value }} {{ piece.nominal.unit }}</span> {{ piece.serial }}
                <span class="quiet">{{ piece.form }}</span>
              </li>
            </ul>
          </section>
        </div>
        <section>
          <h3>Certificates to carry</h3>
          <p class="small">{{ list.certificates.join('; ') || 'none' }}</p>
        </section>
      </template>
      <p v-else class="quiet">
        Choose the scales of a day: the list then has the pieces that serve them all, by where they are kept.
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
.scales {
  overflow: auto;
  max-height: calc(100vh - 15rem);
}
.scales li {
  border-bottom: 1px solid var(--rule-2);
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
