<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'
import { useProfiles } from '../../api/profiles'
import TextField from '../../ui/TextField.vue'
import { say } from '../../words'
import WiringCard from '../WiringCard.vue'
import type { SheetTyping } from '../sheet'
import FigureFields from './FigureFields.vue'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const { data: profiles } = useProfiles()
const profileChoices = computed(() => [
  { label: say('common-none'), value: '' },
  ...(profiles.value ?? []).map((p) => ({ label: p.name, value: p.id })),
])
const fields = [
  ['smallest_uv', 'scale-smallest-signal-a-division-v'],
  ['input_low', 'scale-lowest-input-mv'],
  ['input_high', 'calculators-highest-input-mv'],
  ['span_counts', 'scale-internal-counts-zero-to-max'],
  ['max_divisions', 'scale-most-divisions-it-shows'],
  ['pads', 'scale-pads-or-platforms'],
] as const
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
      <RouterLink
        v-if="form.id && form.version && !form.profile"
        class="small"
        :to="{ name: 'teach', query: { scale: form.id, name: form.indicator } }"
        >{{ $t('setup-teach-this-indicator') }}</RouterLink
      >
    </div>
    <TextField
      id="field_width"
      v-model="form.width"
      :label="$t('scale-digits-in-its-entry-field')"
      :wrong="wrong('field_width')"
      figure
    />
    <FigureFields v-model="form" :fields="fields" :wrong="wrong" />
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
