<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { askGenuine } from '../api/audit'
import type { Failure } from '../api/client'
import type { GenuineReply } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import { useTried } from '../state/tried'
import { momentText, outcomeWord } from '../ui/format'

// Where the code on a certificate or a label leads: open to anybody, and it says no more than what is on the
// paper in hand must agree with.
const props = defineProps<{ job: string; code: string }>()
const told = ref<GenuineReply | null>(null)
const { failure, tried } = useTried()
const ask = () =>
  tried(async () => {
    told.value = await askGenuine(props.job, props.code)
  })
onMounted(ask)
const unknown = (f: Failure | null) => f?.status === 404
</script>

<template>
  <main id="main" class="genuine stack">
    <p class="small quiet">{{ $t('common-ombret') }}</p>
    <template v-if="told?.genuine">
      <h1>{{ $t('check-genuine-record-number', { number: told.number }) }}</h1>
      <p>{{ $t('check-workshop-signed-this-record-and', { workshop: told.workshop }) }}</p>
      <dl>
        <div>
          <dt>{{ $t('common-scale') }}</dt>
          <dd>{{ told.scale }}</dd>
        </div>
        <div>
          <dt>{{ $t('common-signed') }}</dt>
          <dd class="figure">{{ told.signed_at ? momentText(told.signed_at) : '–' }}</dd>
        </div>
        <div>
          <dt>{{ $t('common-outcome') }}</dt>
          <dd>{{ told.outcome ? outcomeWord(told.outcome) : '–' }}</dd>
        </div>
        <div v-if="told.replaced_by">
          <dt>{{ $t('check-superseded') }}</dt>
          <dd>
            <strong class="late">{{
              $t('check-by-version-replaced-by-ask', { replaced_by: told.replaced_by })
            }}</strong>
          </dd>
        </div>
      </dl>
    </template>
    <template v-else-if="told || unknown(failure)">
      <h1>{{ $t('check-not-genuine-or-not-of') }}</h1>
      <p>
        {{ $t('check-no-record-here-has-this') }}
      </p>
    </template>
    <template v-else>
      <RefusalNote :failure="failure" />
      <button v-if="failure" type="button" class="btn" @click="ask">{{ $t('check-ask-again') }}</button>
      <p v-else class="quiet" role="status">{{ $t('check-looking-it-up') }}</p>
    </template>
  </main>
</template>

<style scoped>
.genuine {
  padding: 2rem 1.25rem;
  max-width: 40rem;
  margin: 0 auto;
}
dl > div {
  display: flex;
  gap: 1rem;
  padding: 0.4rem 0;
}
dt {
  width: 8rem;
  flex: none;
}
</style>
