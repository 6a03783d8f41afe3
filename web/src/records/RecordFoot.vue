<script setup lang="ts">
import type { Assessment } from '../api/types'
import { momentText } from '../ui/format'

// Who signed, and what the sheet is.
const { assessment: a } = defineProps<{ job: string; assessment: Assessment; certifies: boolean }>()
</script>

<template>
  <footer>
    <p v-if="a.close.customer">
      <span class="quiet small">{{ $t('record-for-the-customer') }}</span><br /><svg
        class="signature"
        viewBox="0 0 600 200"
        role="img"
        :aria-label="$t('record-signature-of-name', { name: a.close.customer.name })"
      >
        <path :d="a.close.customer.path" /></svg
      ><br /><strong>{{ a.close.customer.name }}</strong
      ><br /><span class="small">{{ momentText(a.close.customer.at) }}</span>
    </p>
    <p v-if="a.review.approved">
      <span class="quiet small">{{ $t('common-approved') }}</span><br /><strong>{{ a.review.approved.by }}</strong
      ><br /><span class="small">{{ momentText(a.review.approved.at) }}</span>
    </p>
    <p>
      <span class="quiet small">{{ $t('common-signed') }}</span><br /><strong>{{ a.close.signed ?? '' }}</strong
      ><br /><span class="small">{{ a.close.signed_at ? momentText(a.close.signed_at) : '' }}</span>
    </p>
    <p class="small quiet foot">
      {{
        $t('record-source-errors-are-plain-readings', {
          source: a.tolerance.source,
          certificate: certifies ? $t('record-a-calibration-certificate-of-this') : $t('record-this-is-a-record-of'),
        })
      }}
      <span class="figure">{{ job }}</span>
    </p>
  </footer>
</template>

<style scoped>
.signature {
  width: 10rem;
  height: 3.3rem;
}
.signature path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  stroke-linecap: round;
}
footer {
  display: flex;
  gap: 2rem;
  justify-content: space-between;
  border-top: 1px solid var(--rule);
  padding-top: 0.7rem;
}
.foot {
  max-width: 32rem;
}
</style>
