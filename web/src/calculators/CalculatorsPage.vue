<script setup lang="ts">
import { figure } from '../words'
import Select from 'primevue/select'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Failure } from '../api/client'
import { askCalculator } from '../api/profiles'
import { useVocabulary } from '../api/scales'
import type { CalculatorQuestion } from '../api/types'
import SignalDrawing from '../drawings/SignalBar.vue'
import WorkingList from '../ui/WorkingList.vue'
import { refDebounced } from '../state/small'
import AlternativeTable from '../job/setup/AlternativeTable.vue'
import { tools } from './calculators'

// Each tool's figures stand in the address: a link to the sum.
const props = defineProps<{ tool?: string }>()
const route = useRoute()
const router = useRouter()
const { data: words } = useVocabulary()
const tool = computed(() => tools.find((t) => t.name === props.tool) ?? tools[0]!)
const typed = reactive<Record<string, string>>({})
watch(
  tool,
  (now) => {
    for (const key of Object.keys(typed)) delete typed[key]
    for (const field of now.fields) typed[field.name] = String(route.query[field.name] ?? field.initial ?? '')
    typed.unit = String(route.query.unit ?? 'kg')
  },
  { immediate: true },
)
watch(typed, (now) => {
  const query = Object.fromEntries(Object.entries(now).filter(([, text]) => text !== ''))
  void router.replace({ name: 'calculators', params: { tool: tool.value.name }, query })
})
const question = computed(() => JSON.stringify(tool.value.question({ ...typed })))
const asked = refDebounced(question, 80)
const { data: answer, error } = useQuery({
  queryKey: computed(() => ['desk', asked.value]),
  queryFn: () => askCalculator(JSON.parse(asked.value) as CalculatorQuestion),
  placeholderData: (before) => before,
})
const failure = computed(() => (error.value instanceof Failure ? error.value : null))
const wrong = (field: string) => (failure.value?.problem?.field === field ? failure.value.message : '')
const copied = ref(false)
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(location.href)
  copied.value = true
  setTimeout(() => (copied.value = false), 2000)
}
</script>

<template>
  <main id="main" class="desk">
    <nav :aria-label="$t('calculators-tools')">
      <RouterLink
        v-for="t in tools"
        :key="t.name"
        :to="{ name: 'calculators', params: { tool: t.name } }"
        class="tool"
        :aria-current="t.name === tool.name ? 'page' : undefined"
        >{{ $t(t.label) }}</RouterLink
      >
    </nav>
    <form class="stack ask" @submit.prevent>
      <h1>{{ $t(tool.title) }}</h1>
      <div class="fields">
        <div v-for="(field, index) in tool.fields" :key="field.name" class="field">
          <label :for="`desk-${field.name}`">{{ $t(field.label) }}{{ field.mass ? `, ${typed.unit}` : '' }}</label>
          <input
            :id="`desk-${field.name}`"
            v-model="typed[field.name]"
            class="input figure big"
            autocomplete="off"
            :autofocus="index === 0"
            :placeholder="field.optional ? $t('calculators-if-known') : ''"
            :aria-invalid="Boolean(wrong(field.at ?? field.name))"
          />
          <p v-if="wrong(field.at ?? field.name)" class="wrong" role="alert">{{ wrong(field.at ?? field.name) }}</p>
        </div>
        <div class="field">
          <span class="label">{{ $t('calculators-unit-where-none-is-typed') }}</span><Select
            v-model="typed.unit"
            :aria-label="$t('common-unit')"
            :options="words?.units ?? []"
          />
        </div>
      </div>
      <div class="row">
        <button type="button" class="btn" @click="copy">
          {{ copied ? $t('calculators-copied') : $t('calculators-copy-the-link-to-this') }}
        </button>
      </div>
    </form>
    <section class="answer stack" aria-live="polite">
      <template v-if="answer && !failure">
        <p class="says" data-testid="desk-says">{{ answer.says }}</p>
        <table v-if="answer.figures.length">
          <tbody>
            <tr v-for="f in answer.figures" :key="String(f.label)">
              <th scope="row">{{ f.label }}</th>
              <td class="figure right">{{ figure(f.value) }}</td>
            </tr>
          </tbody>
        </table>
        <SignalDrawing v-if="answer.signal" :bar="answer.signal" />
        <AlternativeTable
          v-if="answer.alternatives.length"
          :alternatives="answer.alternatives"
          :chosen="typed.d ?? ''"
          :frozen="typed.d === undefined"
          @take="typed.d = $event"
        />
        <details>
          <summary>{{ $t('calculators-the-working') }}</summary>
          <WorkingList :workings="answer.working" />
        </details>
      </template>
      <p v-else-if="failure" class="quiet">
        {{ failure.problem?.field ? $t('calculators-a-figure-is-not-understood') : failure.message }}
      </p>
    </section>
  </main>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: 12rem minmax(0, 1fr) minmax(0, 1.2fr);
  flex: 1;
}
nav {
  border-right: 1px solid var(--rule);
  padding: 1rem 0;
  display: flex;
  flex-direction: column;
}
.tool {
  min-height: var(--target);
  display: flex;
  align-items: center;
  padding: 0 1.25rem;
  text-decoration: none;
  border-left: 4px solid transparent;
}
.tool[aria-current] {
  border-left-color: var(--ink);
  font-weight: 650;
  background: var(--sheet);
}
.ask {
  padding: 1rem 1.5rem;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.7rem 1rem;
  align-items: start;
}
.big {
  font-size: 1.25rem;
}
.answer {
  padding: 1rem 1.5rem;
  background: var(--sheet);
  border-left: 1px solid var(--rule);
}
.says {
  font-size: 1.4rem;
  font-weight: 650;
  line-height: 1.2;
}
summary {
  cursor: pointer;
  min-height: var(--target);
  font-weight: 600;
}
td {
  overflow-wrap: anywhere;
  white-space: normal;
}
@media (max-width: 60rem) {
  .desk {
    grid-template-columns: 1fr;
  }
  nav {
    flex-direction: row;
    flex-wrap: wrap;
    border-right: none;
  }
  .answer {
    border-left: none;
    border-top: 1px solid var(--rule);
  }
}
</style>
