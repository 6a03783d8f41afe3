<script setup lang="ts">
import Select from 'primevue/select'
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useCustomer, useCustomers } from '../../api/customers'
import { useSites } from '../../api/profiles'
import { useVocabulary } from '../../api/scales'
import type { Customer } from '../../api/types'
import { refDebounced } from '../../state/small'
import TextField from '../../ui/TextField.vue'
import { say } from '../../words'
import type { SheetTyping } from '../sheet'
import SheetSection from './SheetSection.vue'

// Which scale it is and whose. Whoever is known already brings address, interval and tolerance along; a new name
// becomes a customer.
const form = defineModel<SheetTyping>({ required: true })
const { known: sheetIsKnown } = defineProps<{ known: boolean; wrong: (field: string) => string }>()
const { data: words } = useVocabulary()
const { data: sites } = useSites()
const siteChoices = computed(() => [
  { label: say('scale-not-named'), value: '' },
  ...(sites.value ?? []).map((s) => ({ label: `${s.name} (${s.latitude}°, ${s.altitude_m} m)`, value: s.name })),
])
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
  if (sheetIsKnown) return
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
    if (now && !sheetIsKnown) take(now)
  },
  { immediate: true },
)
</script>

<template>
  <SheetSection :legend="$t('scale-which-one')">
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
    <TextField id="made" v-model="form.made" :label="$t('scale-year-of-make-if-it')" :wrong="wrong('made')" figure />
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
  </SheetSection>
</template>

<style scoped>
.address {
  min-height: 2.75rem;
}
</style>
