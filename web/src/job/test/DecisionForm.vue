<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import type { DecisionRule } from '../../api/types'
import { useVocabulary } from '../../api/scales'
import HouseFields, { type HouseTyping } from '../../ui/HouseFields.vue'
import { useTyped } from '../../state/typed'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'

// How the uncertainty enters the verdict; another than the sheet's needs a reason.
const job = useJob()
const entry = useEntry()
const view = computed(() => job.assessment.value?.decision)
const { data: words } = useVocabulary()
const tolerance = computed(() => job.assessment.value?.tolerance)
const scheme = ref(tolerance.value?.tolerance.scheme ?? 'r76_in_service')
const grade = ref(tolerance.value?.tolerance.class ?? 'III')
const why = useTyped(() => `${job.id}.tolerance`)
const house = ref<HouseTyping>({ divisions: '', percent_of_load: '', percent_of_max: '', mass: '', pick: 'largest' })
const bookish = computed(() => words.value?.schemes.filter((s) => s.classes.length || s.value === 'house') ?? [])
async function judgeBy(): Promise<void> {
  if (
    await entry.enter({
      kind: 'tolerance_chosen',
      tolerance: { scheme: scheme.value, class: scheme.value === 'house' ? null : grade.value },
      house: scheme.value === 'house' ? house.value : null,
      reason: why.value,
    })
  )
    why.value = ''
}
const chosen = ref<DecisionRule>(view.value?.rule ?? 'simple')
const reason = useTyped(() => `${job.id}.decision`)
async function choose(): Promise<void> {
  if (await entry.enter({ kind: 'decision_chosen', rule: chosen.value, reason: reason.value })) reason.value = ''
}
</script>

<template>
  <details v-if="view" class="decision">
    <summary>
      {{
        $t('decision-form-judged-by-label-split', {
          label: tolerance?.label,
          split: $t(`decision-form-rule-${view.rule.replace('_', '-')}`),
        })
      }}
    </summary>
    <p v-if="view.caution" class="note note-caution small">{{ view.caution }}</p>
    <form v-if="!job.frozen.value" class="stack tight" @submit.prevent="choose">
      <label v-for="r in words?.decisions" :key="r.value" class="check small"
        ><input v-model="chosen" type="radio" name="decision" :value="r.value" /> {{ r.label }}</label
      >
      <div class="row">
        <div class="field grow">
          <label for="decision-reason">{{ $t('decision-form-why-for-this-job') }}</label><InputText
            id="decision-reason"
            v-model="reason"
            :aria-invalid="Boolean(entry.wrong('reason'))"
          />
          <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
        </div>
        <Button type="submit" :disabled="entry.blocked.value">{{ $t('decision-form-judge-so') }}</Button>
      </div>
    </form>
    <form v-if="!job.frozen.value && bookish.length" class="row tight" @submit.prevent="judgeBy">
      <select v-model="scheme" class="input pick" :aria-label="$t('decision-form-another-tolerance-for-this-job')">
        <option v-for="s in bookish" :key="s.value" :value="s.value">{{ s.label }}</option>
      </select>
      <HouseFields
        v-if="scheme === 'house'"
        v-model="house"
        :unit="job.assessment.value?.setup.setup.d.unit ?? ''"
        :wrong="entry.wrong"
      />
      <select v-else v-model="grade" class="input pick" :aria-label="$t('common-class')">
        <option v-for="c in bookish.find((s) => s.value === scheme)?.classes ?? []" :key="c" :value="c">{{ c }}</option>
      </select>
      <InputText
        v-model="why"
        class="input grow"
        :aria-label="$t('decision-form-why-another-tolerance')"
        :placeholder="$t('decision-form-why-another-tolerance-2')"
      />
      <Button type="submit" :disabled="entry.blocked.value">{{ $t('decision-form-judge-by-it') }}</Button>
    </form>
  </details>
</template>

<style scoped>
.decision {
  border-top: 1px solid var(--rule);
  padding-top: 0.4rem;
}
summary {
  cursor: pointer;
  min-height: var(--target);
  font-weight: 600;
}
.grow {
  flex: 1 1 8rem;
}
.pick {
  width: auto;
}
.row {
  align-items: end;
}
</style>
