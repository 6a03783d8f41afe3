<script setup lang="ts">
import { say } from '../words'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useCustomer, useCustomers } from '../api/customers'
import { useProfiles, useSites } from '../api/profiles'
import { useSaveScale, useScale, useVocabulary } from '../api/scales'
import FileList from '../ui/FileList.vue'
import ExampleLine from './ExampleLine.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import SiteForm from './SiteForm.vue'
import HouseFields from '../ui/HouseFields.vue'
import TextField from '../ui/TextField.vue'
import WiringCard from './WiringCard.vue'
import { useDefaults } from '../api/people'
import type { Customer } from '../api/types'
import { session } from '../state/session'
import { refDebounced } from '../state/small'
import { useTried } from '../state/tried'
import { emptySheet, sheetFields, toForm, typedFrom } from './sheet'

const props = defineProps<{ scale?: string }>()
const router = useRouter()
const { data: words } = useVocabulary()
const { data: sites } = useSites()
const { data: profiles } = useProfiles()
const { data: detail, error } = useScale(() => props.scale)
const save = useSaveScale()
const { general, tried, wrong } = useTried()
const works = computed(() => session.has('technician'))
const form = ref(emptySheet())
const scheme = computed(() => words.value?.schemes.find((s) => s.value === form.value.scheme))
const house = computed(() => form.value.scheme === 'house')
const siteChoices = computed(() => [
  { label: say('scale-not-named'), value: '' },
  ...(sites.value ?? []).map((s) => ({ label: `${s.name} (${s.latitude}°, ${s.altitude_m} m)`, value: s.name })),
])
const profileChoices = computed(() => [
  { label: say('common-none'), value: '' },
  ...(profiles.value ?? []).map((p) => ({ label: p.name, value: p.id })),
])

watch(
  [detail, words],
  ([found]) => {
    if (found) form.value = typedFrom(found, words.value?.line_pattern ?? '')
    else if (!form.value.pattern && words.value) form.value.pattern = words.value.line_pattern
  },
  { immediate: true },
)
// A new sheet begins with the workshop's unit and tolerance book; what was typed meanwhile stays.
// Whoever is known already brings address, interval and tolerance along; a new name becomes a customer.
const asked = refDebounced(
  computed(() => form.value.owner),
  200,
)
const customers = useCustomers(asked)
const known = computed(() => customers.data.value?.pages.flatMap((p) => p.customers) ?? [])
const route = useRoute()
const given = useCustomer(() => (typeof route.query.customer === 'string' ? route.query.customer : null))
function take(c: Customer): void {
  form.value.owner = c.name
  if (c.address) form.value.owner_address = c.address
  if (props.scale) return
  if (c.interval_months) form.value.months = String(c.interval_months)
  if (c.scheme) form.value.scheme = c.scheme
}
function chosen(): void {
  const name = form.value.owner.trim().toLowerCase()
  const one = known.value.find((c) => c.name.toLowerCase() === name)
  if (one) take(one)
}
watch(
  given.data,
  (now) => {
    if (now && !props.scale) take(now)
  },
  { immediate: true },
)
const { data: defaults } = useDefaults()
watch(
  defaults,
  (now) => {
    if (!now || props.scale) return
    const plain = emptySheet()
    if (now.unit && form.value.unit === plain.unit) form.value.unit = now.unit
    if (now.scheme && form.value.scheme === plain.scheme) form.value.scheme = now.scheme
  },
  { immediate: true },
)
watch(scheme, (now) => {
  if (now?.classes.length && !now.classes.includes(form.value.class)) form.value.class = now.classes[0] ?? 'III'
})
async function submit(): Promise<void> {
  await tried(async () => {
    const saved = await save.mutateAsync(toForm(form.value, detail.value, sites.value ?? [], profiles.value ?? []))
    await (props.scale
      ? router.push({ name: 'home' })
      : router.replace({ name: 'scale', params: { scale: saved.sheet.id } }))
  })
}
</script>

<template>
  <main id="main" class="sheet">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <form v-else class="stack tight" @submit.prevent="submit">
      <div class="row head">
        <h1>{{ props.scale ? form.name || $t('common-scale') : $t('common-new-scale') }}</h1>
        <span class="push"></span>
        <Button v-if="works" type="submit" class="btn-next" :disabled="save.isPending.value">{{
          props.scale ? $t('scale-keep-the-changes') : $t('scale-add-the-scale')
        }}</Button><RouterLink
          v-if="props.scale"
          class="btn"
          :to="{ name: 'history', params: { scale: props.scale } }"
          >{{ $t('scale-its-records') }}</RouterLink
        ><RouterLink class="btn btn-bare" :to="{ name: 'home' }">{{ $t('scale-back-to-the-scales') }}</RouterLink>
      </div>
      <RefusalNote :failure="general(sheetFields)" />
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-which-one') }}</legend>
        <TextField id="name" v-model="form.name" :label="$t('scale-name-its-owner-gives-it')" :wrong="wrong('name')" />
        <TextField
          id="owner"
          v-model="form.owner"
          :label="$t('common-customer')"
          list="known-customers"
          :wrong="wrong('owner')"
          @change="chosen"
        />
        <datalist id="known-customers">
          <option v-for="c in known" :key="c.id" :value="c.name"></option>
        </datalist>
        <div class="field">
          <label for="owner_address">{{ $t('scale-the-customer-s-address-as') }}</label><textarea
            id="owner_address"
            v-model="form.owner_address"
            class="input address"
            rows="2"
            :aria-invalid="Boolean(wrong('owner_address'))"
          ></textarea>
          <p v-if="wrong('owner_address')" class="wrong" role="alert">{{ wrong('owner_address') }}</p>
        </div>
        <TextField id="place" v-model="form.place" :label="$t('common-place')" :wrong="wrong('place')" />
        <div class="field">
          <span class="label">{{ $t('records-kind') }}</span><Select
            v-model="form.kind"
            :aria-label="$t('records-kind')"
            :options="words?.kinds ?? []"
            option-label="label"
            option-value="value"
          />
        </div>
        <TextField id="serial" v-model="form.serial" :label="$t('common-serial')" :wrong="wrong('serial')" />
        <TextField
          id="made"
          v-model="form.made"
          :label="$t('scale-year-of-make-if-it')"
          :wrong="wrong('made')"
          figure
        />
        <div class="field">
          <span class="label">{{ $t('scale-where-it-is-used-for') }}</span><Select
            v-model="form.site"
            :aria-label="$t('scale-site')"
            :placeholder="$t('scale-not-named')"
            :options="siteChoices"
            option-label="label"
            option-value="value"
          />
        </div>
      </fieldset>
      <SiteForm v-if="works" @kept="form.site = $event" />
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-what-its-plate-says') }}</legend>
        <div class="field">
          <span class="label">{{ $t('calculators-unit-where-none-is-typed') }}</span><Select
            v-model="form.unit"
            :aria-label="$t('common-unit')"
            :options="words?.units ?? []"
          />
        </div>
        <TextField
          id="plate_max"
          v-model="form.plate_max"
          :label="$t('scale-rated-max-unit-empty-no', { unit: form.unit })"
          :wrong="wrong('plate_max')"
          figure
        />
        <TextField
          id="plate_d"
          v-model="form.plate_d"
          :label="$t('scale-smallest-division-unit', { unit: form.unit })"
          :wrong="wrong('plate_d')"
          figure
        />
        <div class="field">
          <span class="label">{{ $t('common-ranges') }}</span><Select
            v-model="form.mode"
            :aria-label="$t('scale-how-its-ranges-work')"
            :options="words?.modes ?? []"
            option-label="label"
            option-value="value"
          />
        </div>
        <template v-if="form.mode !== 'single'">
          <TextField
            id="fine_max"
            v-model="form.fine_max"
            :label="$t('scale-finer-range-up-to-unit', { unit: form.unit })"
            :wrong="wrong('fine_max')"
            figure
          />
          <TextField
            id="fine_d"
            v-model="form.fine_d"
            :label="$t('scale-its-division-unit', { unit: form.unit })"
            :wrong="wrong('fine_d')"
            figure
          />
        </template>
        <div class="field">
          <label for="switch">{{ $t('scale-calibration-switch-or-cover') }}</label>
          <select id="switch" v-model="form.switch" class="input">
            <option value="">{{ $t('scale-as-its-kind-usually-has') }}</option>
            <option value="yes">{{ $t('scale-there-is-one') }}</option>
            <option value="no">{{ $t('scale-there-is-none') }}</option>
          </select>
        </div>
      </fieldset>
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-cells-under-one-platform') }}</legend>
        <TextField
          id="cell_count"
          v-model="form.cell_count"
          :label="$t('scale-number-of-cells')"
          :wrong="wrong('cell_count')"
          figure
        />
        <TextField
          id="cell_e_max"
          v-model="form.cell_e_max"
          :label="$t('scale-capacity-of-each-unit', { unit: form.unit })"
          :wrong="wrong('cell_e_max')"
          figure
        />
        <TextField
          id="cell_sensitivity"
          v-model="form.cell_sensitivity"
          :label="$t('calculators-sensitivity-mv-v')"
          :wrong="wrong('cell_sensitivity')"
          figure
        />
        <TextField
          id="cell_v_min"
          v-model="form.cell_v_min"
          :label="$t('scale-v-min-unit', { unit: form.unit })"
          :wrong="wrong('cell_v_min')"
          figure
        />
        <TextField
          id="cell_y"
          v-model="form.cell_y"
          :label="$t('scale-or-y-e-max-v')"
          :wrong="wrong('cell_y')"
          figure
        />
        <TextField
          id="cell_n_lc"
          v-model="form.cell_n_lc"
          :label="$t('scale-most-divisions-n-lc')"
          :wrong="wrong('cell_n_lc')"
          figure
        />
        <template v-if="form.mode === 'multi_interval'">
          <TextField
            id="cell_dr"
            v-model="form.cell_dr"
            :label="$t('scale-dead-load-output-return-dr', { unit: form.unit })"
            :wrong="wrong('cell_dr')"
            figure
          />
          <TextField
            id="cell_z"
            v-model="form.cell_z"
            :label="$t('scale-or-z-e-max-2')"
            :wrong="wrong('cell_z')"
            figure
          />
        </template>
        <TextField
          id="excitation"
          v-model="form.excitation"
          :label="$t('calculators-excitation-v')"
          :wrong="wrong('excitation')"
          figure
        />
        <TextField
          id="lever_ratio"
          v-model="form.lever_ratio"
          :label="$t('scale-lever-ratio-force-on-cells')"
          :wrong="wrong('lever_ratio')"
          figure
        />
        <TextField
          id="reserve"
          v-model="form.reserve"
          :label="$t('scale-overload-reserve-without-a-plate')"
          :wrong="wrong('reserve')"
          figure
        />
        <TextField
          id="working_load"
          v-model="form.working_load"
          :label="$t('scale-working-load-unit-if-it', { unit: form.unit })"
          :wrong="wrong('working_load')"
          figure
        />
        <TextField
          id="dead_load"
          v-model="form.dead_load"
          :label="$t('scale-dead-load-unit', { unit: form.unit })"
          :wrong="wrong('dead_load')"
          figure
        />
        <TextField id="stays_on_what" v-model="form.stays_on_what" :label="$t('scale-what-always-stays-on-it')" />
        <TextField
          id="stays_on"
          v-model="form.stays_on"
          :label="$t('scale-its-mass-unit', { unit: form.unit })"
          :wrong="wrong('stays_on')"
          figure
        />
      </fieldset>
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-the-indicator') }}</legend>
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
      </fieldset>
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-how-it-is-judged') }}</legend>
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
      </fieldset>
      <fieldset :disabled="!works">
        <legend>{{ $t('scale-connection') }}</legend>
        <label class="check wide"
          ><input v-model="form.connected" type="checkbox" name="connected" />
          {{ $t('scale-the-indicator-sends-its-readings') }}</label
        >
        <template v-if="form.connected">
          <TextField
            id="address"
            v-model="form.address"
            :label="$t('scale-address-host-port-or-serial')"
            :wrong="wrong('address')"
            figure
          />
          <TextField id="steady" v-model="form.steady" :label="$t('scale-text-of-its-steady-mark')" figure />
          <ExampleLine :unit="form.unit" @made="(pattern, steady) => Object.assign(form, { pattern, steady })" />
          <div class="field wide">
            <label for="pattern">{{ $t('scale-line-pattern') }}</label><InputText
              id="pattern"
              v-model="form.pattern"
              class="input figure"
              :aria-invalid="Boolean(wrong('pattern'))"
            />
            <p :class="wrong('pattern') ? 'wrong' : 'hint'">
              {{ wrong('pattern') || $t('scale-a-regular-expression-with-the') }}
            </p>
          </div>
        </template>
      </fieldset>
    </form>
    <FileList v-if="props.scale && detail" :id="props.scale" of="scale" />
  </main>
</template>

<style scoped>
.sheet {
  padding: 0.5rem 1.25rem 2rem;
}
.head {
  position: sticky;
  top: 0;
  background: var(--paper);
  padding: 0.4rem 0;
  z-index: 2;
  border-bottom: 1px solid var(--rule);
}
fieldset {
  border: none;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 0.4rem 0 0.6rem;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.5rem 1.25rem;
  align-items: end;
}
legend {
  font-weight: 650;
  padding-right: 1rem;
}
.wide {
  grid-column: 1 / -1;
}
.seals {
  min-height: 3.6rem;
}
.address {
  min-height: 2.75rem;
}
</style>
