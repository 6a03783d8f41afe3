<script setup lang="ts">
import { computed, ref } from 'vue'
import { useJobQuery } from '../api/jobs'
import { usePlan } from '../api/kit'
import LoadLadder from '../drawings/LoadLadder.vue'
import PlatformTop from '../drawings/PlatformTop.vue'
import SpanCurve from '../drawings/SpanCurve.vue'
import WorkingList from '../ui/WorkingList.vue'
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
const gradeWord = { sound: 'sound', thin: 'thin', blind: 'BLIND' }
</script>

<template>
  <main id="main" class="loads">
    <p v-if="lost || error" class="note note-wrong" role="alert">{{ (lost ?? error)?.message }}</p>
    <template v-if="a && plan">
      <section class="ladder stack">
        <h1>What to lift: {{ a.sheet.name }}</h1>
        <p class="figure wraps" data-testid="plan-sum">
          {{ plan.work.value }} {{ plan.work.unit }} moved, {{ plan.moves }} moves, {{ plan.pieces }} pieces
        </p>
        <p v-if="plan.least_work" class="small" data-testid="round-cost">
          Round loads. The plan of least work would move
          <span class="figure">{{ plan.least_work.value }} {{ plan.least_work.unit }}</span
          >, with odder loads.
          <button type="button" class="btn" @click="choosing.least(true)">Take the least work</button>
        </p>
        <p v-else-if="choosing.choices.value.least_work" class="small">
          The loads of least work.
          <button type="button" class="btn" @click="choosing.least(false)">Take round loads</button>
        </p>
        <p class="small quiet">
          {{
            Number(plan.gap.value) === 0
              ? plan.proven
                ? 'No plan moves less, in fewer moves.'
                : 'No plan moves less.'
              : `At most ${plan.gap.value} ${plan.gap.unit} above the least.`
          }}
        </p>
        <LoadLadder
          :plan="plan"
          :max="Number(a.setup.setup.max.value)"
          :unit="unit"
          :statuses="reply?.statuses ?? []"
          :steps="a.shade.steps"
        />
        <RouterLink class="btn" :to="{ name: 'job', params: { job: props.job, stage: 'prove' } }"
          >To the job</RouterLink
        >
      </section>
      <section class="steps stack">
        <div v-for="l in plan.lacks" :key="l.load.value" class="note note-wrong" data-testid="lack">
          <strong class="figure">{{ l.load.value }} {{ l.load.unit }}</strong> ({{ l.why }}) cannot be built from what
          is usable.<template v-if="l.borrow.length">
            Borrow
            <strong class="figure">{{ l.borrow.map((m) => `${m.value} ${m.unit}`).join(' + ') }}</strong>.</template
          >
        </div>
        <ol>
          <li v-for="(s, i) in plan.steps" :key="i" :class="{ now: i === reply?.next }">
            <p class="row">
              <strong class="figure big">{{ s.load.value }} {{ s.load.unit }}</strong
              ><span class="quiet">{{ s.why }}</span
              ><span v-if="s.ratio !== null" class="push small figure quiet"
                >weights {{ (s.ratio * 100).toFixed(0) }} % of MPE</span
              >
            </p>
            <PieceList v-if="s.take.length" label="take off" :pieces="s.take" fixed />
            <PieceList
              v-if="s.put.length"
              label="put on"
              :pieces="s.put"
              :idle="plan.idle"
              @bar="choosing.bar"
              @swap="choosing.swap"
            />
            <p class="row tight small">
              <button type="button" class="text" :aria-pressed="choosing.isLocked(s)" @click="choosing.lock(s)">
                {{ choosing.isLocked(s) ? 'locked; let it be planned again' : 'lock these pieces' }}</button><button
                type="button"
                class="text"
                :aria-pressed="shownStep === s"
                @click="looked = i"
              >
                where they stand
              </button>
            </p>
            <p v-for="c in s.cautions" :key="c" class="note note-caution small">{{ c }}</p>
          </li>
        </ol>
        <p v-if="choosing.count.value">
          <button type="button" class="btn" @click="choosing.forget()">
            Forget my choices ({{ choosing.count.value }})
          </button>
        </p>
        <section v-if="plan.substitution" class="stack tight" data-testid="substitution">
          <h2>With material in place of weights</h2>
          <p class="small">
            <strong :class="plan.substitution.grade">{{
              plan.substitution.grade === 'sound'
                ? 'Sound'
                : plan.substitution.grade === 'caution'
                  ? 'Caution'
                  : 'Not taken'
            }}</strong>: {{ plan.substitution.says }}.
          </p>
          <table class="small">
            <thead>
              <tr>
                <th scope="col" class="right">Load, about</th>
                <th scope="col" class="right">substitutions</th>
                <th scope="col" class="right">u of the load</th>
                <th scope="col" class="right">2u against MPE</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="t in plan.substitution.steps" :key="t.substitutions">
                <td class="figure right">{{ t.load.value }} {{ t.load.unit }}</td>
                <td class="figure right">{{ t.substitutions }}</td>
                <td class="figure right">{{ t.u.toPrecision(2) }} {{ t.load.unit }}</td>
                <td class="figure right">{{ (t.share * 100).toFixed(0) }} %</td>
              </tr>
            </tbody>
          </table>
          <details>
            <summary>The working</summary>
            <WorkingList :workings="[plan.substitution.working]" />
          </details>
        </section>
        <details v-if="plan.aside.length" :open="aside">
          <summary>{{ plan.aside.length }} pieces left aside</summary>
          <ul class="small">
            <li v-for="p in plan.aside" :key="p.serial">
              <span class="figure">{{ p.nominal.value }} {{ p.nominal.unit }}</span> {{ p.serial }}: {{ p.why }}
            </li>
          </ul>
        </details>
      </section>
      <section class="span stack">
        <template v-if="shownStep"
          ><h2>
            Where they stand at <span class="figure">{{ shownStep.load.value }} {{ shownStep.load.unit }}</span>
          </h2>
          <PlatformTop :step="shownStep"
        /></template>
        <h2>How good is the span weight?</h2>
        <div class="field">
          <label for="thought">Span weight thought of, {{ unit }}</label
          ><input
            id="thought"
            v-model="span"
            class="input figure"
            autocomplete="off"
            :aria-invalid="Boolean(reply?.span_refused)"
            :placeholder="reply?.span ? reply.span.weight.value : 'such as half of Max'"
          />

          <p v-if="reply?.span_refused" class="wrong" role="alert">
            {{ [reply.span_refused.message, reply.span_refused.what_to_do].filter(Boolean).join('. ') }}
          </p>
        </div>
        <template v-if="reply?.span">
          <p class="says" data-testid="span-says">
            <strong :class="reply.span.grade">{{ gradeWord[reply.span.grade] }}</strong> ·
            {{ reply.span.says.split(': ')[1] }}
          </p>
          <SpanCurve :span="reply.span" :unit="unit" />
          <p v-if="reply.span_pieces.length" class="small">
            made of {{ reply.span_pieces.map((p) => p.serial).join(', ') }}
          </p>
          <p v-else class="small note note-caution">The kit does not build this weight exactly.</p>
          <p v-if="reply.span.one_more" class="small">{{ reply.span.one_more }}</p>
          <table class="small">
            <thead>
              <tr>
                <th scope="col">School</th>
                <th scope="col" class="right">at least</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="f in reply.span.floors" :key="f.school">
                <th scope="row">{{ f.label }}</th>
                <td class="figure right">{{ f.floor ? `${f.floor.value} ${f.floor.unit}` : 'not known' }}</td>
                <td>{{ f.floor ? (f.below ? 'below it' : 'met') : '' }}</td>
              </tr>
            </tbody>
          </table>
          <details>
            <summary>The working</summary>
            <WorkingList :workings="[reply.span.working]" />
          </details>
        </template>
      </section>
    </template>
    <p v-else-if="!lost && !error" class="quiet" role="status">Planning …</p>
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
.caution {
  color: var(--caution);
}
.refuse {
  color: var(--light-ink);
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
.sound {
  color: var(--shade-ink);
}
.thin {
  color: var(--caution);
}
.blind {
  color: var(--light-ink);
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
