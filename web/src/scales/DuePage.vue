<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { Failure } from '../api/client'
import { renewCalendar, useCalendar, useDue } from '../api/history'
import type { DueOrder, DueRow } from '../api/types'
import WeekLoad from '../drawings/WeekLoad.vue'
import ReminderForm from './ReminderForm.vue'
import { session } from '../state/session'
import { refDebounced } from '../state/small'
import { dayText } from '../ui/format'

// What is due, by week, owner or place, the overdue first; a day is made from what is ticked.
const days = ref(92)
const by = ref<DueOrder>('week')
const search = ref('')
const asked = refDebounced(search, 150)
const board = useDue(days, by, asked)
const { data: calendar } = useCalendar()
const chosen = ref<string[]>([])
const wrong = ref('')
const works = session.has('technician')
const rows = computed(() => board.data.value?.pages.flatMap((p) => p.rows) ?? [])
const counts = computed(() => board.data.value?.pages[0]?.counts)
const groupOf = (row: DueRow) =>
  by.value === 'owner'
    ? row.owner
    : by.value === 'place'
      ? row.place || 'no place named'
      : row.overdue
        ? 'Overdue'
        : `Week of ${dayText(row.week)}`
const groups = computed(() => {
  const found = new Map<string, DueRow[]>()
  for (const row of rows.value) found.set(groupOf(row), [...(found.get(groupOf(row)) ?? []), row])
  return [...found]
})
const everyOf = (some: DueRow[]) => some.every((r) => chosen.value.includes(r.scale))
function toggle(some: DueRow[]): void {
  const ids = some.map((r) => r.scale)
  chosen.value = everyOf(some)
    ? chosen.value.filter((id) => !ids.includes(id))
    : [...new Set([...chosen.value, ...ids])]
}
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
    <div class="row">
      <h1>Due</h1>
      <label class="row tight no-print"
        >in the next
        <select v-model="days" class="input days" aria-label="How far ahead">
          <option :value="31">month</option>
          <option :value="92">three months</option>
          <option :value="366">year</option>
        </select></label
      >
      <label class="row tight no-print"
        >by
        <select v-model="by" class="input days" aria-label="By what">
          <option value="week">week</option>
          <option value="owner">owner</option>
          <option value="place">place</option>
        </select></label
      >
      <input
        v-model="search"
        class="input search no-print"
        type="search"
        placeholder="Name, owner, place, serial"
        aria-label="Search among what is due"
      /><span class="push"></span>
      <RouterLink
        v-if="chosen.length"
        class="btn btn-next no-print"
        :to="{ name: 'day', query: { scales: chosen.join(',') } }"
        >Make a day of {{ chosen.length }}</RouterLink
      ><button type="button" class="btn no-print" @click="print">Print</button>
    </div>
    <p v-if="board.error.value" class="note note-wrong" role="alert">{{ board.error.value.message }}</p>
    <template v-else-if="counts">
      <p v-if="!counts.total" class="quiet" role="status">
        {{ asked ? `Nothing that matches “${asked}” is due in that time.` : 'Nothing is due in that time.' }}
      </p>
      <section v-else aria-label="How many in each week">
        <p>
          <strong>{{ counts.total }}</strong> due<template v-if="counts.overdue"
            >, <strong class="late">{{ counts.overdue }} overdue</strong></template
          >
        </p>
        <WeekLoad :weeks="counts.weeks" :overdue="counts.overdue" />
      </section>
    </template>
    <section v-for="[group, some] in groups" :key="group" class="week">
      <div class="row">
        <h2 :class="{ late: group === 'Overdue' }">{{ group }}</h2>
        <button type="button" class="btn btn-bare no-print" @click="toggle(some)">
          {{ everyOf(some) ? 'Select none' : some.length === 1 ? 'Select this one' : `Select all ${some.length}` }}
        </button>
      </div>
      <table>
        <tbody>
          <tr v-for="r in some" :key="r.scale">
            <td class="tick no-print">
              <label class="check"
                ><input v-model="chosen" type="checkbox" :value="r.scale" :aria-label="`Take ${r.name} into a day`"
              /></label>
            </td>
            <td class="when figure" :class="{ late: r.overdue }">{{ dayText(r.due) }}</td>
            <td>
              <RouterLink :to="{ name: 'history', params: { scale: r.scale } }"
                ><strong>{{ r.name }}</strong></RouterLink
              >
              <span class="quiet">{{ r.owner }}, {{ r.place }}</span>
            </td>
            <td class="small quiet why">{{ r.reason }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <p v-if="board.hasNextPage.value && counts">
      <Button type="button" :disabled="board.isFetchingNextPage.value" @click="board.fetchNextPage()"
        >More; {{ rows.length }} of {{ counts.total }} are shown</Button
      >
    </p>
    <section class="calendar no-print">
      <h2>As a calendar</h2>
      <p v-if="address" class="small">
        Whoever has this address reads what is due. It is shown this once; note it now:
        <span class="figure address" data-testid="calendar">{{ address }}</span>
      </p>
      <p v-else-if="calendar?.there" class="small">
        There is an address already. It was shown when it was made and is not kept; make a new one if it is lost.
      </p>
      <p v-if="works">
        <Button type="button" @click="renew">{{
          calendar?.there ? 'Make a new address; the old one leads nowhere then' : 'Make an address for a calendar'
        }}</Button>
      </p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    </section>
    <ReminderForm :manages="session.has('manager')" />
  </main>
</template>

<style scoped>
.due {
  padding: 1rem 1.25rem 2rem;
  max-width: 74rem;
}
.days {
  width: auto;
}
.search {
  width: 15rem;
}
.tight {
  gap: 0.4rem;
}
.late {
  color: var(--light-ink);
}
.tick {
  width: 3rem;
}
.when {
  width: 9rem;
}
.why {
  width: 21rem;
}
.address {
  white-space: normal;
  overflow-wrap: anywhere;
}
.calendar {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
}
</style>
