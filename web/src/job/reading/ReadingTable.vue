<script setup lang="ts">
import { figure, say } from '../../words'
import { computed, nextTick, ref, watch } from 'vue'
import type { ReadingView } from '../../api/types'
import VerdictMark from '../../ui/VerdictMark.vue'

const props = defineProps<{ readings: ReadingView[]; selected?: string | null; plain?: boolean }>()
const several = computed(() => props.readings.some((r) => r.pad !== 1))
const guardWord = (r: ReadingView) =>
  ({
    pass: undefined,
    fail: undefined,
    pass_inside_guard: say('reading-table-within-in-guard'),
    fail_inside_guard: say('reading-table-outside-in-guard'),
  })[r.verdict ?? 'pass']
const box = ref<HTMLElement | null>(null)
// The newest reading is the one that is looked for.
watch(
  () => props.readings.length,
  async () => {
    await nextTick()
    box.value?.scrollTo({ top: box.value.scrollHeight })
  },
)
defineEmits<{ select: [entry: string] }>()
</script>

<template>
  <div ref="box" :class="{ box: !plain }">
    <table>
      <thead>
        <tr>
          <th scope="col">{{ $t('common-load') }}</th>
          <th scope="col">{{ $t('reading-form-direction') }}</th>
          <th scope="col" class="right">{{ $t('reading-table-indication') }}</th>
          <th scope="col" class="right">{{ $t('common-error') }}</th>
          <th scope="col" class="right">{{ $t('reading-table-in-d') }}</th>
          <th scope="col" class="right">{{ $t('common-tolerance') }}</th>
          <th scope="col">{{ $t('common-verdict') }}</th>
          <th v-if="!plain">
            <span class="sr-only">{{ $t('reading-table-working') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in readings" :key="r.entry" :class="{ void: !r.counts, chosen: r.entry === selected }">
          <td class="figure">
            {{ several ? `${r.pad || $t('reading-table-all')}: ` : '' }}{{ figure(r.load_text)
            }}<span v-if="r.purpose !== 'load'" class="small quiet what">
              {{
                r.purpose === 'corner'
                  ? r.position
                    ? $t('reading-table-place-spot', { spot: r.position })
                    : $t('reading-table-middle')
                  : $t('reading-table-again')
              }}</span
            ><span v-if="r.after_repair" class="small quiet what">{{ $t('reading-table-after-the-repair') }}</span>
          </td>
          <td>{{ r.direction === 'up' ? $t('reading-table-increasing') : $t('reading-table-decreasing') }}</td>
          <td class="figure right">{{ figure(r.shown_text) }}</td>
          <td class="figure right">{{ figure(r.corrected_text ?? r.error_text) }}</td>
          <td class="figure right quiet">{{ figure(r.error_d) }}</td>
          <td class="figure right quiet">{{ figure(r.mpe_text) }}</td>
          <td>
            <span v-if="r.not_judged" class="quiet" :title="String(r.not_judged)">{{
              $t('reading-table-not-judged')
            }}</span><VerdictMark
              v-else-if="r.counts"
              :verdict="r.within ? 'within' : 'outside'"
              :word="guardWord(r)"
            /><span v-else class="quiet">{{ $t('reading-table-does-not-count') }}</span>
          </td>
          <td v-if="!plain" class="right">
            <button
              type="button"
              class="link small"
              :aria-expanded="r.entry === selected"
              @click="$emit('select', r.entry)"
            >
              {{ $t('reading-table-working-2') }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.box {
  overflow: auto;
  min-height: 9.6rem;
  flex: 0 1 auto;
  scroll-snap-type: y mandatory;
  scroll-padding-top: 1.7rem;
}
.box thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
}
.box tbody tr {
  scroll-snap-align: start;
}
.box td {
  padding-top: 0.15rem;
  padding-bottom: 0.15rem;
}
.void td {
  text-decoration: line-through;
  color: var(--ink-2);
}
.chosen td {
  background: var(--shade-2);
}
.what {
  margin-left: 0.5em;
}
.link {
  font: inherit;
  background: none;
  border: none;
  color: inherit;
  text-decoration: underline;
  cursor: pointer;
  min-height: 1.8rem;
  padding: 0 0.3rem;
}
</style>
