<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import RefusalNote from '../../ui/RefusalNote.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { session } from '../../state/session'
import { useTyped } from '../../state/typed'
import { usePaper } from '../../api/papers'
import CustomerSign from './CustomerSign.vue'
import JobFiles from '../JobFiles.vue'
import ErrorChartSide from '../ErrorChartSide.vue'
import ConditionsForm from './ConditionsForm.vue'
import CorrectSheet from './CorrectSheet.vue'
import CounterForm from '../CounterForm.vue'
import WorkFrame from '../WorkFrame.vue'
import { useEntry } from '../useEntry'
import { useJob } from '../useJob'
import { outcomeVerdict, outcomeWord } from '../../ui/format'

const job = useJob()
const router = useRouter()
const entry = useEntry()
const a = computed(() => job.assessment.value)
const { data: paper } = usePaper()
// Where the workshop wants it the customer signs first; whoever is not there does not hold the work up.
const customerFirst = computed(
  () => Boolean(paper.value?.rules.customer_signs) && !a.value?.sheet.practice && !a.value?.close.customer,
)
const seals = useTyped(
  () => `${job.id}.seals`,
  () => a.value?.close.seals ?? '',
)
const remark = useTyped(() => `${job.id}.remark`)
const stop = useTyped(() => `${job.id}.stop`)
// The name that signs is the account's; the password is asked again and kept nowhere.
const password = ref('')
const switchBack = ref(a.value?.close.switch_back ?? false)
const locked = ref(a.value?.close.locked ?? false)
const sealedUp = () =>
  Boolean(
    a.value?.close.seals || a.value?.close.switch_back || (!a.value?.close.has_switch && a.value?.close.seals !== null),
  )
const sealing = ref(!sealedUp())
watch(sealedUp, (done) => (sealing.value = !done))

async function sealUp(): Promise<void> {
  if (await entry.enter({ kind: 'sealed_up', seals: seals.value, switch_back: switchBack.value, locked: locked.value }))
    sealing.value = Boolean(a.value?.close.has_switch) && !switchBack.value
}
async function addRemark(): Promise<void> {
  if (await entry.enter({ kind: 'remarked', text: remark.value })) remark.value = ''
}
async function stopShort(): Promise<void> {
  if (await entry.enter({ kind: 'stopped_short', reason: stop.value })) stop.value = ''
}
async function sign(): Promise<void> {
  const signed = await entry.enter({ kind: 'closed' }, password.value)
  password.value = ''
  if (signed) await router.push({ name: a.value?.sheet.practice ? 'account' : 'record', params: { job: job.id } })
}
</script>

<template>
  <WorkFrame stage="close">
    <template v-if="a">
      <p class="row verdict" role="status">
        <VerdictMark :verdict="outcomeVerdict(a.outcome)" :word="outcomeWord(a.outcome)" />
        <span>{{ a.outcome_says }}</span>
      </p>
      <ul v-if="a.reservations.length" class="small">
        <li v-for="r in a.reservations" :key="String(r)" class="note note-caution">{{ r }}</li>
      </ul>
      <RefusalNote :failure="entry.general(['seals', 'text', 'reason', 'password'])" />
      <p v-if="a.review.standing === 'sent_back' && a.review.sent_back" class="note note-caution">
        <strong>{{ $t('close-out-sent-back-by-by', { by: a.review.sent_back.by }) }}</strong>
        {{ a.review.sent_back.text }}
      </p>
      <p v-if="a.review.standing === 'amending'" class="note">
        {{ $t('close-out-new-version-in-the-place', { replaces: a.review.replaces, because: a.review.because }) }}
      </p>
      <template v-if="!job.frozen.value">
        <form v-if="sealing" class="stack tight" @submit.prevent="sealUp">
          <div class="field">
            <label for="seals">{{ $t('close-out-seals-with-their-numbers-empty') }}</label><InputText
              id="seals"
              v-model="seals"
              autofocus
            />
          </div>
          <div class="row">
            <label v-if="a.close.has_switch" class="check"
              ><input v-model="switchBack" type="checkbox" name="switch-back" />
              {{ $t('close-out-calibration-switch-back-cover-on') }}</label
            >
            <label class="check"
              ><input v-model="locked" type="checkbox" name="locked" />
              {{ $t('close-out-set-up-locked-unwanted-units') }}</label
            >
          </div>
          <div>
            <Button
              type="submit"
              :class="a.next.stage === 'close' && !a.close.ready ? 'btn-next' : ''"
              :disabled="entry.blocked.value"
              >{{ $t('close-out-sealed-up') }}</Button
            >
          </div>
        </form>
        <p v-else class="row">
          {{ $t('close-out-sealed-upseals', { seals: a.close.seals ? `: ${a.close.seals}` : '' }) }}
          <button type="button" class="btn btn-bare" @click="sealing = true">{{ $t('close-out-change') }}</button>
        </p>
        <CustomerSign v-if="a.close.ready && !a.sheet.practice && (paper?.rules.customer_signs || a.close.customer)" />
        <form v-if="a.close.ready" class="row end" @submit.prevent="sign">
          <p class="signer">
            {{ $t('common-signed-by') }} <strong>{{ session.person.value?.name }}</strong>
          </p>
          <div v-if="!a.sheet.practice" class="field grow">
            <label for="sign-password">{{ $t('close-out-your-password-signs-it') }}</label><InputText
              id="sign-password"
              v-model="password"
              type="password"
              autofocus
              autocomplete="current-password"
              :aria-invalid="Boolean(entry.wrong('password'))"
            />
            <p v-if="entry.wrong('password')" class="wrong" role="alert">{{ entry.wrong('password') }}</p>
          </div>
          <Button
            type="submit"
            :class="a.next.act === 'sign' && !customerFirst ? 'btn-next' : 'tall'"
            :disabled="entry.blocked.value"
            >{{ $t('close-out-sign-and-lock') }}</Button
          >
        </form>
        <form class="row end" @submit.prevent="addRemark">
          <div class="field grow">
            <label for="remark">{{ $t('close-out-remark-for-the-record') }}</label><InputText
              id="remark"
              v-model="remark"
            />
            <p v-if="entry.wrong('text')" class="wrong" role="alert">{{ entry.wrong('text') }}</p>
          </div>
          <Button type="submit" :disabled="entry.blocked.value">{{ $t('close-out-add') }}</Button>
        </form>
        <details v-if="!a.close.stopped && !a.close.ready">
          <summary>{{ $t('close-out-the-job-cannot-be-finished') }}</summary>
          <form class="row end" @submit.prevent="stopShort">
            <div class="field grow">
              <label for="stop">{{ $t('close-out-why-it-stops-short-of') }}</label><InputText
                id="stop"
                v-model="stop"
              />
              <p v-if="entry.wrong('reason')" class="wrong" role="alert">{{ entry.wrong('reason') }}</p>
            </div>
            <Button type="submit" :disabled="entry.blocked.value">{{ $t('close-out-stop-short') }}</Button>
          </form>
        </details>
        <CorrectSheet />
      </template>
      <RouterLink v-else class="btn btn-next start" :to="{ name: 'record', params: { job: job.id } }">{{
        $t('job-to-the-record')
      }}</RouterLink>
    </template>
    <template #side>
      <ConditionsForm v-if="!job.frozen.value" />
      <JobFiles v-if="a && !a.sheet.practice" stage="close" />
      <CounterForm v-if="!job.frozen.value" left />
      <section v-if="a && !job.frozen.value">
        <h2>{{ a.close.missing.length ? $t('close-out-missing') : $t('close-out-nothing-is-missing') }}</h2>
        <ul>
          <li v-for="m in a.close.missing" :key="String(m.says)" class="missing">
            <RouterLink :to="{ name: 'job', params: { job: job.id, stage: m.stage } }">{{ m.says }}</RouterLink><span
              class="small quiet"
              >{{ m.blocks ? $t('close-out-needed') : $t('close-out-advised') }}</span
            >
          </li>
        </ul>
      </section>
      <ErrorChartSide />
    </template>
  </WorkFrame>
</template>

<style scoped>
.signer {
  align-self: center;
}
.verdict {
  font-size: 1.1rem;
  flex-wrap: nowrap;
  align-items: start;
}
.end {
  align-items: end;
}
.grow {
  flex: 1;
}
.start {
  align-self: flex-start;
}
summary {
  cursor: pointer;
  min-height: var(--target);
  display: flex;
  align-items: center;
}
.missing {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.35rem 0;
}
</style>
