<script setup lang="ts">
import { maxByD } from '../ui/format'
import { say } from '../words'
import { computed, watch } from 'vue'
import { onKey } from '../state/keys'
import { useRouter } from 'vue-router'
import { useScale } from '../api/scales'
import type { Stage } from '../api/types'
import AsFoundStage from './as_found/AsFoundStage.vue'
import CloseOutStage from './close_out/CloseOutStage.vue'
import LessonCard from '../practice/LessonCard.vue'
import StageLine from './StageLine.vue'
import JournalFoot from './JournalFoot.vue'
import InspectionStage from './inspection/InspectionStage.vue'
import TestStage from './test/TestStage.vue'
import SetupStage from './setup/SetupStage.vue'
import WaitingNote from './WaitingNote.vue'
import ZeroSpanStage from './zero_span/ZeroSpanStage.vue'
import { provideJob } from './useJob'
import { useLive } from './useLive'
import DevicePort from '../offline/DevicePort.vue'
import { devicePort } from '../offline/serial'

const props = defineProps<{ job: string; stage?: string }>()
const router = useRouter()
const job = provideJob(props.job)
const a = computed(() => job.assessment.value)
const { data: scale } = useScale(() => a.value?.sheet.id)
const pages = {
  look_over: InspectionStage,
  as_found: AsFoundStage,
  set_up: SetupStage,
  zero_and_span: ZeroSpanStage,
  prove: TestStage,
  close: CloseOutStage,
}
const stage = computed<Stage>(() =>
  props.stage && props.stage in pages ? (props.stage as Stage) : (a.value?.next.stage ?? 'look_over'),
)

// A changed division changes what steady means: the stream is opened anew with it.
const liveUrl = computed(() => {
  const setup = a.value?.setup.setup
  if (!setup || !scale.value?.device || job.frozen.value || devicePort.reading.value) return null
  return `/api/scales/${scale.value.sheet.id}/live?job=${props.job}&d=${setup.d.value}${setup.d.unit}`
})
const byServer = useLive(liveUrl)
// Read by this device, it is not read by the server too.
const live = computed(() => devicePort.view.value ?? byServer.value)
const extra = computed(() =>
  ['look_over', 'as_found', 'zero_and_span', 'prove'].includes(stage.value)
    ? { live: live.value, practice: Boolean(scale.value?.device?.hands) }
    : {},
)

function go(to: Stage): void {
  void router.replace({ name: 'job', params: { job: props.job, stage: to } })
}
// A job opened without a stage stays at the one that was next then, like any other.
watch(
  [a, () => props.stage],
  ([now, at]) => {
    if (now && !at) go(now.next.stage)
  },
  { immediate: true },
)
// The page goes along with the work: whoever was where the next action is follows it. Proving is
// left by hand: more loads than are needed may be wanted.
watch(
  () => a.value?.next.stage,
  (now, before) => {
    const follows = stage.value === before || stage.value === 'set_up'
    if (now && before && now !== before && follows && stage.value !== 'prove' && !job.frozen.value) go(now)
  },
)
watch(
  () => a.value?.sheet.name,
  (name) => {
    if (name) document.title = say('job-name-job-ombret', { name })
  },
)
onKey('stage', (key) => {
  const to = a.value?.stages[Number(key) - 1]?.stage
  if (!to) return false
  go(to)
})
</script>

<template>
  <main id="main" class="job">
    <Teleport v-if="a" defer to="#bar-middle">
      <h1 class="head">
        <span v-if="a.sheet.practice">{{ a.sheet.name }}</span><RouterLink
          v-else
          :to="{ name: 'scale', params: { scale: a.sheet.id } }"
          >{{ a.sheet.name }}</RouterLink
        >
        <span class="quiet rest"
          ><span class="figure">{{ maxByD(a.setup.setup.max, a.setup.setup.d) }}</span> · {{ a.sheet.owner }}</span
        >
      </h1>
    </Teleport>
    <template v-if="a">
      <StageLine :stages="a.stages" :job="props.job" :current="stage" :next="a.next.stage" />
      <LessonCard v-if="a.sheet.practice" />
      <WaitingNote />
      <DevicePort v-if="!job.frozen.value && !a.sheet.practice && extra.live !== undefined" />
      <p v-if="job.frozen.value" class="note note-good frozen">
        {{ a.sheet.practice ? $t('job-practice-closed-as') : $t('job-signed-and-frozen-as-record') }}
        {{ job.reply.value?.job.number }}.
        <RouterLink :to="{ name: 'record', params: { job: props.job } }">{{ $t('job-to-the-record') }}</RouterLink>
      </p>
      <component :is="pages[stage]" v-bind="extra" :key="stage" />
      <JournalFoot :stage="stage" />
    </template>
    <p v-else-if="job.failed.value" class="note note-wrong lone" role="alert">
      {{ job.failed.value.message }} <RouterLink :to="{ name: 'home' }">{{ $t('job-to-the-scales') }}</RouterLink>
    </p>
    <p v-else class="lone quiet" role="status">{{ $t('job-reading-the-journal') }}</p>
  </main>
</template>

<style scoped>
.job {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.head {
  font-size: 1.05rem;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.rest {
  font-weight: 500;
}
.frozen {
  margin: 0;
}
.lone {
  margin: 2rem 1.25rem;
}
</style>
