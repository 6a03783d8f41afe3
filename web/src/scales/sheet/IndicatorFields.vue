<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'
import { useProfiles } from '../../api/profiles'
import TextField from '../../ui/TextField.vue'
import { say } from '../../words'
import WiringCard from '../WiringCard.vue'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const { data: profiles } = useProfiles()
const profileChoices = computed(() => [
  { label: say('common-none'), value: '' },
  ...(profiles.value ?? []).map((p) => ({ label: p.name, value: p.id })),
])
</script>

<template>
  <SheetSection :legend="$t('scale-the-indicator')">
    <TextField
      id="indicator"
      v-model="form.indicator"
      :label="$t('scale-what-its-plate-calls-it')"
      :wrong="wrong('indicator')"
    />
    <div class="field">
      <span class="label">{{ $t('scale-keyed-by-the-profile') }}</span><Select
        v-model="form.profile"
        :aria-label="$t('router-profile')"
        :placeholder="$t('common-none')"
        :options="profileChoices"
        option-label="label"
        option-value="value"
      />
    </div>
    <TextField
      id="field_width"
      v-model="form.width"
      :label="$t('scale-digits-in-its-entry-field')"
      :wrong="wrong('field_width')"
      figure
    />
    <TextField
      id="smallest_uv"
      v-model="form.smallest_uv"
      :label="$t('scale-smallest-signal-a-division-v')"
      :wrong="wrong('smallest_uv')"
      figure
    />
    <TextField
      id="input_low"
      v-model="form.input_low"
      :label="$t('scale-lowest-input-mv')"
      :wrong="wrong('input_low')"
      figure
    />
    <TextField
      id="input_high"
      v-model="form.input_high"
      :label="$t('calculators-highest-input-mv')"
      :wrong="wrong('input_high')"
      figure
    />
    <TextField
      id="span_counts"
      v-model="form.span_counts"
      :label="$t('scale-internal-counts-zero-to-max')"
      :wrong="wrong('span_counts')"
      figure
    />
    <TextField
      id="max_divisions"
      v-model="form.max_divisions"
      :label="$t('scale-most-divisions-it-shows')"
      :wrong="wrong('max_divisions')"
      figure
    />
    <TextField id="pads" v-model="form.pads" :label="$t('scale-pads-or-platforms')" :wrong="wrong('pads')" figure />
    <WiringCard v-model="form.wiring" :wrong="wrong('wiring')" />
    <div class="field wide">
      <label for="seal_points">{{ $t('scale-where-seals-sit-one-a') }}</label><textarea
        id="seal_points"
        v-model="form.seal_points"
        class="input seals"
      ></textarea>
    </div>
  </SheetSection>
</template>

<style scoped>
.seals {
  min-height: 3.6rem;
}
</style>
