<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { sayOfRecord } from '../api/papers'
import { queryClient } from '../api/queries'
import type { Draft, JobReply } from '../api/types'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { momentText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'

// What may be done with a signed record: approve it or send it back, or begin a new version.
const props = defineProps<{ reply: JobReply }>()
const router = useRouter()
const review = computed(() => props.reply.assessment.review)
const works = computed(() => session.has('technician'))
const mayApprove = computed(() => session.has('reviewer') && !props.reply.job.imported)
const mayAmend = computed(
  () =>
    works.value &&
    !props.reply.job.imported &&
    (review.value.standing === 'signed' || review.value.standing === 'approved'),
)
const said = ref('')
const open = ref(false)
const { busy, failure, tried } = useTried()
const wrong = computed(() =>
  failure.value?.problem?.field === 'remarks' || failure.value?.problem?.field === 'reason'
    ? failure.value.message
    : '',
)

async function send(draft: Draft): Promise<boolean> {
  const done = await tried(() => sayOfRecord(props.reply, draft))
  if (done) {
    said.value = ''
    open.value = false
  } else if (failure.value?.code === 'stale')
    await queryClient.invalidateQueries({ queryKey: ['job', props.reply.job.id] })
  return done
}
async function amend(): Promise<void> {
  if (await send({ kind: 'amended', reason: said.value }))
    await router.push({ name: 'job', params: { job: props.reply.job.id, stage: 'close' } })
}
</script>

<template>
  <section class="review no-print" :aria-label="$t('record-review-approval')">
    <p v-if="review.standing === 'approved' && review.approved" class="state">
      <strong>{{ $t('common-approved') }}</strong>
      {{ $t('record-review-by-by-at', { by: review.approved.by, at: momentText(review.approved.at) })
      }}<template v-if="review.approved.text">: {{ review.approved.text }}</template>
      <button v-if="mayAmend && !open" type="button" class="btn btn-bare" @click="open = true">
        {{ $t('record-review-amend-it') }}
      </button>
    </p>
    <p v-else-if="review.standing === 'signed'" class="state">
      <strong>{{ $t('record-review-signed-not-approved-yet') }}</strong><template v-if="review.sent_back">
        {{ $t('record-review-it-was-sent-back-before', { sent_back: review.sent_back.text }) }}</template
      >
      <button v-if="mayAmend && !open" type="button" class="btn btn-bare" @click="open = true">
        {{ $t('record-review-amend-it') }}
      </button>
    </p>
    <p v-else-if="review.standing === 'sent_back' && review.sent_back" class="state">
      <strong>{{ $t('record-review-sent-back') }}</strong>
      {{ $t('record-review-by-by-sent-back', { by: review.sent_back.by, sent_back: review.sent_back.text }) }}
      <RouterLink
        v-if="works"
        class="btn btn-next"
        :to="{ name: 'job', params: { job: reply.job.id, stage: 'close' } }"
        >{{ $t('record-review-correct') }}</RouterLink
      >
    </p>
    <p v-else-if="review.standing === 'amending'" class="state">
      <strong>{{ $t('record-review-a-new-version-is-being') }}</strong>{{
        $t('record-review-in-the-place-of-replaces', { replaces: review.replaces, because: review.because })
      }}
      <RouterLink
        v-if="works"
        class="btn btn-next"
        :to="{ name: 'job', params: { job: reply.job.id, stage: 'close' } }"
        >{{ $t('record-review-go-on') }}</RouterLink
      >
    </p>
    <form
      v-if="mayApprove && review.standing === 'signed'"
      class="row end"
      @submit.prevent="send({ kind: 'approved', remarks: said })"
    >
      <div class="field grow">
        <label for="review-remarks">{{ $t('record-review-remarks-needed-to-send-it') }}</label><input
          id="review-remarks"
          v-model="said"
          class="input"
          :aria-invalid="Boolean(wrong)"
        />
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      </div>
      <Button type="submit" class="btn-next" :disabled="busy">{{ $t('record-review-approve') }}</Button>
      <Button type="button" :disabled="busy" @click="send({ kind: 'sent_back', remarks: said })">{{
        $t('record-review-send-back')
      }}</Button>
    </form>
    <template v-if="mayAmend">
      <form v-if="open" class="row end" @submit.prevent="amend">
        <div class="field grow">
          <label for="amend-why">{{ $t('record-review-why-a-new-version-is') }}</label><input
            id="amend-why"
            v-model="said"
            class="input"
            :aria-invalid="Boolean(wrong)"
          />
          <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        </div>
        <Button type="submit" class="btn-next" :disabled="busy">{{ $t('record-review-begin-the-new-version') }}</Button>
        <button type="button" class="btn btn-bare" @click="open = false">{{ $t('common-leave-it') }}</button>
      </form>
    </template>
    <RefusalNote :failure="wrong ? null : failure" />
  </section>
</template>

<style scoped>
.review {
  width: min(52rem, 100%);
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
}
.state .btn {
  margin-left: 0.6rem;
}
.end {
  align-items: end;
}
.grow {
  flex: 1;
}
</style>
