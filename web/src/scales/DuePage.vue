<script setup lang="ts">
import { say } from '../words'
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
import { vCards } from '../ui/cards'

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
      ? row.place || say('due-no-place-named')
      : row.overdue
        ? say('week-load-overdue')
        : say('due-week-of-week', { week: dayText(row.week) })
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
      <h1>{{ $t('common-due') }}</h1>
      <label class="row tight no-print"
        >{{ $t('due-in-the-next') }}
        <select v-model="days" class="input days" :aria-label="$t('due-how-far-ahead')">
          <option :value="31">{{ $t('due-month') }}</option>
          <option :value="92">{{ $t('due-three-months') }}</option>
          <option :value="366">{{ $t('due-year') }}</option>
        </select></label
      >
      <label class="row tight no-print"
        >{{ $t('due-by') }}
        <select v-model="by" class="input days" :aria-label="$t('due-by-what')">
          <option value="week">{{ $t('due-week') }}</option>
          <option value="owner">{{ $t('due-owner') }}</option>
          <option value="place">{{ $t('weights-place') }}</option>
        </select></label
      >
      <input
        v-model="search"
        class="input search no-print"
        type="search"
        :placeholder="$t('due-name-owner-place-serial')"
        :aria-label="$t('due-search-among-what-is-due')"
      /><span class="push"></span>
      <RouterLink
        v-if="chosen.length"
        class="btn btn-next no-print"
        :to="{ name: 'route', query: { scales: chosen.join(',') } }"
        >{{ $t('due-make-a-day-of-count', { count: chosen.length }) }}</RouterLink><button
        type="button"
        class="btn no-print"
        @click="print"
      >
        {{ $t('common-print') }}
      </button>
    </div>
    <p v-if="board.error.value" class="note note-wrong" role="alert">{{ board.error.value.message }}</p>
    <template v-else-if="counts">
      <p v-if="!counts.total" class="quiet" role="status">
        {{ asked ? $t('due-nothing-that-matches-asked-is', { asked }) : $t('due-nothing-is-due-in-that') }}
      </p>
      <section v-else :aria-label="$t('due-how-many-in-each-week')">
        <p>
          <strong>{{ counts.total }}</strong> {{ $t('due-due')
          }}<template v-if="counts.overdue"
            >, <strong class="late">{{ $t('due-overdue-overdue', { overdue: counts.overdue }) }}</strong></template
          >
        </p>
        <WeekLoad :weeks="counts.weeks" :overdue="counts.overdue" />
      </section>
    </template>
    <section v-for="[group, some] in groups" :key="group" class="week">
      <div class="row">
        <h2 :class="{ late: group === 'Overdue' }">{{ group }}</h2>
        <button type="button" class="btn btn-bare no-print" @click="toggle(some)">
          {{
            everyOf(some)
              ? $t('due-select-none')
              : some.length === 1
                ? $t('due-select-this-one')
                : $t('due-select-all-count', { count: some.length })
          }}
        </button>
      </div>
      <table v-cards>
        <tbody>
          <tr v-for="r in some" :key="r.scale">
            <td class="tick no-print">
              <label class="check"
                ><input
                  v-model="chosen"
                  type="checkbox"
                  :value="r.scale"
                  :aria-label="$t('due-take-name-into-a-day', { name: r.name })"
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
      <Button type="button" :disabled="board.isFetchingNextPage.value" @click="board.fetchNextPage()">{{
        $t('due-more-count-of-total-are', { count: rows.length, total: counts.total })
      }}</Button>
    </p>
    <section class="calendar no-print">
      <h2>{{ $t('due-as-a-calendar') }}</h2>
      <p v-if="address" class="small">
        {{ $t('due-whoever-has-this-address-reads') }}
        <span class="figure address" data-testid="calendar">{{ address }}</span>
      </p>
      <p v-else-if="calendar?.there" class="small">
        {{ $t('due-there-is-an-address-already') }}
      </p>
      <p v-if="works">
        <Button type="button" @click="renew">{{
          calendar?.there ? $t('due-make-a-new-address-the') : $t('due-make-an-address-for-a')
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
