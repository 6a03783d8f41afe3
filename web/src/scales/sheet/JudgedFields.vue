<script setup lang="ts">
import Select from 'primevue/select'
import { computed, watch } from 'vue'
import { useVocabulary } from '../../api/scales'
import HouseFields from '../../ui/HouseFields.vue'
import TextField from '../../ui/TextField.vue'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

const form = defineModel<SheetTyping>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const { data: words } = useVocabulary()
const scheme = computed(() => words.value?.schemes.find((s) => s.value === form.value.scheme))
const house = computed(() => form.value.scheme === 'house')
watch(scheme, (now) => {
  if (now?.classes.length && !now.classes.includes(form.value.class)) form.value.class = now.classes[0] ?? 'III'
})
</script>

<template>
  <SheetSection :legend="$t('scale-how-it-is-judged')">
    <div class="field">
      <span class="label">{{ $t('common-tolerance') }}</span><Select
        v-model="form.scheme"
        :aria-label="$t('common-tolerance')"
        :options="words?.schemes.filter((s) => s.value !== 'table' || form.scheme === 'table') ?? []"
        option-label="label"
        option-value="value"
      />
    </div>
    <div v-if="scheme?.classes.length" class="field">
      <span class="label">{{ $t('common-class') }}</span><Select
        v-model="form.class"
        :aria-label="$t('common-class')"
        :options="scheme.classes"
      />
    </div>
    <div class="field">
      <span class="label">{{ $t('scale-verdict-with-uncertainty') }}</span><Select
        v-model="form.decision"
        :aria-label="$t('scale-decision-rule')"
        :options="words?.decisions ?? []"
        option-label="label"
        option-value="value"
      />
    </div>
    <HouseFields v-if="house" v-model="form.house" :unit="form.unit" :wrong="wrong" />
    <div v-if="house" class="field wide">
      <span class="label">{{ $t('scale-asked-for-beside-the-loads') }}</span>
      <div class="row">
        <label class="check"><input v-model="form.ask_corners" type="checkbox" /> {{ $t('scale-corners') }}</label
        ><label class="check"
          ><input v-model="form.ask_discrimination" type="checkbox" /> {{ $t('scale-discrimination') }}</label
        ><label class="check"
          ><input v-model="form.ask_zero" type="checkbox" /> {{ $t('scale-zero-after-a-load') }}</label
        >
      </div>
    </div>
    <TextField
      v-if="house"
      id="repeats"
      v-model="form.repeats"
      :label="$t('scale-weighings-of-one-load-0')"
      :wrong="wrong('repeats')"
      figure
    />
    <p v-if="wrong('tolerance')" class="wrong" role="alert">{{ wrong('tolerance') }}</p>
    <label class="check"
      ><input v-model="form.trade" type="checkbox" name="trade" /> {{ $t('scale-used-for-trade') }}</label
    >
    <TextField
      id="interval_months"
      v-model="form.months"
      :label="$t('scale-months-between-checks')"
      :wrong="wrong('interval_months')"
      figure
    />
  </SheetSection>
</template>
