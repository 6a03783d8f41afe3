<script setup lang="ts">
import { percent, massText, told } from '../ui/format'
import { computed, ref } from 'vue'
import { useJobQuery } from '../api/jobs'
import { usePlan } from '../api/kit'
import LoadLadder from '../drawings/LoadLadder.vue'
import SideSheet from '../ui/SideSheet.vue'
import PlatformTop from '../drawings/PlatformTop.vue'
import SpanThought from './SpanThought.vue'
import SubstitutionPlan from './SubstitutionPlan.vue'
import { refDebounced } from '../state/small'
import { useTyped } from '../state/typed'
import PieceList from '../job/reading/PieceList.vue'
import { usePlanChoices } from '../job/usePlanChoices'

// What to lift, in which order, and what it proves, before anything is lifted.
const props = defineProps<{ job: string }>()
const { data: job, error: lost } = useJobQuery(() => props.job)
const a = computed(() => job.value?.assessment)
const choosing = usePlanChoices(() => props.job)
const span = useTyped(() => `${props.job}.thought-span`)
const asked = refDebounced(span, 150)
const { data: reply, error } = usePlan(
  () => props.job,
  computed(() => ({ choices: choosing.choices.value, span: asked.value, entries: a.value?.entries.length ?? 0 })),
)
const plan = computed(() => reply.value?.plan)
const unit = computed(() => a.value?.setup.setup.d.unit ?? '')
const aside = ref(false)
const looked = ref<number | null>(null)
const shownStep = computed(() => plan.value?.steps[looked.value ?? reply.value?.next ?? 0])
</script>

<template>
  <main id="main" class="loads">
    <p v-if="lost || error" class="note note-wrong" role="alert">{{ (lost ?? error)?.message }}</p>
    <template v-if="a && plan">
      <section class="ladder stack">
        <h1>{{ $t('loads-what-to-lift-name', { name: a.sheet.name }) }}</h1>
        <p class="figure wraps" data-testid="plan-sum">
          {{
            $t('loads-work-unit-moved-moves-moves', {
              work: told(plan.work.value),
              unit: plan.work.unit,
              moves: plan.moves,
              pieces: plan.pieces,
            })
          }}
        </p>
        <p v-if="plan.least_work" class="small" data-testid="round-cost">
          {{ $t('loads-round-loads-the-plan-of') }}
          <span class="figure">{{ massText(plan.least_work) }}</span>{{ $t('loads-with-odder-loads') }}
          <button type="button" class="btn" @click="choosing.least(true)">{{ $t('loads-take-the-least-work') }}</button>
        </p>
        <p v-else-if="choosing.choices.value.least_work" class="small">
          {{ $t('loads-the-loads-of-least-work') }}
          <button type="button" class="btn" @click="choosing.least(false)">{{ $t('loads-take-round-loads') }}</button>
        </p>
        <p class="small quiet">
          {{
            Number(plan.gap.value) === 0
              ? plan.proven
                ? $t('loads-no-plan-moves-less-in')
                : $t('loads-no-plan-moves-less')
              : $t('loads-at-most-gap-unit-above', { gap: told(plan.gap.value), unit: plan.gap.unit })
          }}
        </p>
        <SideSheet :title="$t('loads-ladder')">
          <LoadLadder
            :plan="plan"
            :max="Number(a.setup.setup.max.value)"
            :unit="unit"
            :statuses="reply?.statuses ?? []"
            :steps="a.error_chart.steps"
          />
        </SideSheet>
        <RouterLink class="btn" :to="{ name: 'job', params: { job: props.job, stage: 'prove' } }">{{
          $t('common-to-the-job')
        }}</RouterLink>
      </section>
      <section class="steps stack">
        <div v-for="l in plan.lacks" :key="l.load.value" class="note note-wrong" data-testid="lack">
          <strong class="figure">{{ massText(l.load) }}</strong>
          {{ $t('loads-why-cannot-be-built-from', { why: l.why })
          }}<template v-if="l.borrow.length">
            {{ $t('loads-borrow') }}
            <strong class="figure">{{ l.borrow.map((m) => massText(m)).join(' + ') }}</strong>.</template
          >
        </div>
        <ol>
          <li v-for="(s, i) in plan.steps" :key="i" :class="{ now: i === reply?.next }">
            <p class="row">
              <strong class="figure big">{{ massText(s.load) }}</strong><span class="quiet">{{ s.why }}</span
              ><span v-if="s.ratio !== null" class="push small figure quiet">{{
                $t('loads-weights-x-of-mpe', { x: percent(s.ratio) })
              }}</span>
            </p>
            <PieceList v-if="s.take.length" :label="$t('common-take-off')" :pieces="s.take" fixed />
            <PieceList
              v-if="s.put.length"
              :label="$t('pieces-on-put-on')"
              :pieces="s.put"
              :idle="plan.idle"
              @bar="choosing.bar"
              @swap="choosing.swap"
            />
            <p class="row tight small">
              <button type="button" class="text" :aria-pressed="choosing.isLocked(s)" @click="choosing.lock(s)">
                {{
                  choosing.isLocked(s) ? $t('loads-locked-let-it-be-planned') : $t('loads-lock-these-pieces')
                }}</button><button type="button" class="text" :aria-pressed="shownStep === s" @click="looked = i">
                {{ $t('loads-where-they-stand') }}
              </button>
            </p>
            <p v-for="c in s.cautions" :key="String(c)" class="note note-caution small">{{ c }}</p>
          </li>
        </ol>
        <p v-if="choosing.count.value">
          <button type="button" class="btn" @click="choosing.forget()">
            {{ $t('loads-forget-my-choices-count', { count: choosing.count.value }) }}
          </button>
        </p>
        <SubstitutionPlan v-if="plan.substitution" :plan="plan.substitution" />
        <details v-if="plan.aside.length" :open="aside">
          <summary>{{ $t('loads-count-pieces-left-aside', { count: plan.aside.length }) }}</summary>
          <ul class="small">
            <li v-for="p in plan.aside" :key="p.serial">
              <span class="figure">{{ massText(p.nominal) }}</span> {{ p.serial }}: {{ p.why }}
            </li>
          </ul>
        </details>
      </section>
      <section class="span stack">
        <template v-if="shownStep"
          ><h2>
            {{ $t('loads-where-they-stand-at') }}
            <span class="figure">{{ massText(shownStep.load) }}</span>
          </h2>
          <PlatformTop :step="shownStep"
        /></template>
        <SpanThought v-model="span" :reply="reply" :unit="unit" />
      </section>
    </template>
    <p v-else-if="!lost && !error" class="quiet" role="status">{{ $t('loads-planning') }}</p>
  </main>
</template>

<style scoped>
.text {
  font: inherit;
  background: none;
  border: none;
  padding: 0;
  color: var(--ink-2);
  text-decoration: underline;
  cursor: pointer;
  min-height: 1.6rem;
}
.text[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 700;
}
.loads {
  display: grid;
  grid-template-columns: minmax(19rem, 24rem) minmax(0, 1.3fr) minmax(19rem, 1fr);
  flex: 1;
}
.loads > section {
  padding: 1rem 1.25rem;
}
.steps {
  border-left: 1px solid var(--rule);
  border-right: 1px solid var(--rule);
  background: var(--sheet);
}
.steps ol {
  display: flex;
  flex-direction: column;
}
.steps ol > li {
  border-bottom: 1px solid var(--rule);
  padding: 0.5rem 0 0.6rem 0.7rem;
  border-left: 5px solid transparent;
  display: flex;
  flex-direction: column;
  gap: 0.3rem;
}
.steps .now {
  border-left-color: var(--next);
}
.wraps {
  white-space: normal;
}
.big {
  font-size: 1.2rem;
}
summary {
  cursor: pointer;
  min-height: var(--target);
}
@media (max-width: 72rem) {
  .loads {
    grid-template-columns: 1fr 1.4fr;
  }
  .span {
    grid-column: 1 / -1;
    border-top: 1px solid var(--rule);
  }
}
@media (max-width: 48rem) {
  .loads {
    grid-template-columns: 1fr;
  }
  .steps {
    border: none;
  }
}
</style>
