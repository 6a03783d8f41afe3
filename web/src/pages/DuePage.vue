<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { Failure } from '../api/client'
import { renewCalendar, useCalendar, useDue } from '../api/history'
import type { DueRow } from '../api/types'
import { session } from '../state/session'
import { dayText } from '../work/words'

// What is due, by week, the overdue first; a day is made from what is ticked.
const days = ref(92)
const { data, error } = useDue(days)
const { data: calendar } = useCalendar()
const chosen = ref<string[]>([])
const wrong = ref('')
const works = session.person.value?.role === 'technician'
const weeks = computed(() => {
  const by = new Map<string, DueRow[]>()
  for (const row of data.value ?? []) {
    const week = row.overdue ? 'overdue' : row.week
    by.set(week, [...(by.get(week) ?? []), row])
  }
  return [...by]
})
const address = computed(() => (calendar.value?.path ? `${location.origin}${calendar.value.path}` : ''))
const print = () => window.print()
async function renew(): Promise<void> {
  wrong.value = ''
  try {
    await renewCalendar()
  } catch (told) {
    wrong.value = told instanceof Failure ? told.message : String(told)
  }
}
</script>

<template>
  <main id="main" class="due stack">
    <div class="row"><h1>Due</h1><label class="row tight no-print">in the next <select v-model="days" class="input days" aria-label="How far ahead"><option :value="31">month</option><option :value="92">three months</option><option :value="366">year</option></select></label><span class="push"></span>
      <RouterLink v-if="chosen.length" class="btn btn-next no-print" :to="{ name: 'day', query: { scales: chosen.join(',') } }">Make a day of {{ chosen.length }}</RouterLink><button type="button" class="btn no-print" @click="print">Print</button></div>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="data && !data.length" class="quiet">Nothing is due in that time.</p>
    <section v-for="[week, rows] in weeks" :key="week" class="week">
      <h2 :class="{ late: week === 'overdue' }">{{ week === 'overdue' ? 'Overdue' : `Week of ${dayText(week)}` }}</h2>
      <table><tbody><tr v-for="r in rows" :key="r.scale"><td class="tick no-print"><label class="check"><input v-model="chosen" type="checkbox" :value="r.scale" :aria-label="`Take ${r.name} into a day`" /></label></td><td class="when figure">{{ dayText(r.due) }}</td><td><RouterLink :to="{ name: 'history', params: { scale: r.scale } }"><strong>{{ r.name }}</strong></RouterLink> <span class="quiet">{{ r.owner }}, {{ r.place }}</span></td><td class="small quiet why">{{ r.reason }}</td></tr></tbody></table>
    </section>
    <section class="calendar no-print"><h2>As a calendar</h2><p v-if="address" class="small">Whoever has this address reads what is due: <span class="figure address" data-testid="calendar">{{ address }}</span></p><p v-if="works"><Button type="button" @click="renew">{{ address ? 'Make a new address; the old one leads nowhere then' : 'Make an address for a calendar' }}</Button></p><p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p></section>
  </main>
</template>

<style scoped>
.due { padding: 1rem 1.25rem 2rem; max-width: 74rem; }
.days { width: auto; }
.late { color: var(--light-ink); }
.tick { width: 3rem; }
.when { width: 9rem; }
.why { width: 21rem; }
.address { white-space: normal; overflow-wrap: anywhere; }
.calendar { border-top: 1px solid var(--rule); padding-top: 0.6rem; }
</style>
