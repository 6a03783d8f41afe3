<script setup lang="ts">
import { useVocabulary } from '../api/scales'
import type { Customer } from '../api/types'
import TextField from '../ui/TextField.vue'

// What stands on certificates, whom to call, and what is agreed.
const form = defineModel<Required<Customer>>({ required: true })
defineProps<{ wrong: (field: string) => string }>()
const { data: words } = useVocabulary()
</script>

<template>
  <fieldset class="plain grid">
    <TextField
      id="customer-name"
      v-model="form.name"
      :label="$t('customer-name-as-it-stands-on')"
      :wrong="wrong('name')"
    />
    <TextField
      id="customer-number"
      v-model="form.number"
      :label="$t('customer-your-number-for-them')"
      figure
      :wrong="wrong('number')"
    />
    <div class="field">
      <label for="customer-address">{{ $t('customer-address-as-it-stands-on') }}</label>
      <textarea id="customer-address" v-model="form.address" class="input" rows="3"></textarea>
      <p v-if="wrong('address')" class="wrong" role="alert">{{ wrong('address') }}</p>
    </div>
    <div class="field">
      <label for="customer-invoice">{{ $t('customer-where-invoices-go-where-that') }}</label>
      <textarea id="customer-invoice" v-model="form.invoice_address" class="input" rows="3"></textarea>
      <p v-if="wrong('invoice_address')" class="wrong" role="alert">{{ wrong('invoice_address') }}</p>
    </div>
    <TextField
      id="customer-contact"
      v-model="form.contact"
      :label="$t('customer-whom-to-ask-for')"
      :wrong="wrong('contact')"
    />
    <TextField
      id="customer-telephone"
      v-model="form.telephone"
      :label="$t('customer-telephone')"
      figure
      :wrong="wrong('telephone')"
    />
    <TextField
      id="customer-email"
      v-model="form.email"
      :label="$t('customer-mail-for-reminders')"
      :wrong="wrong('email')"
    />
    <div class="field">
      <label for="customer-language">{{ $t('customer-language-of-their-paper') }}</label>
      <select id="customer-language" v-model="form.language" class="input">
        <option :value="null">{{ $t('customer-as-the-workshop-s') }}</option>
        <option v-for="l in words?.languages ?? []" :key="l.language" :value="l.language">{{ l.name }}</option>
      </select>
    </div>
    <div class="field">
      <label for="customer-interval">{{ $t('customer-new-scales-of-theirs-months') }}</label>
      <input
        id="customer-interval"
        class="input figure"
        inputmode="numeric"
        :value="form.interval_months ?? ''"
        :placeholder="$t('customer-as-the-workshop-s')"
        @input="form.interval_months = Number(($event.target as HTMLInputElement).value) || null"
      />
      <p v-if="wrong('interval_months')" class="wrong" role="alert">{{ wrong('interval_months') }}</p>
    </div>
    <div class="field">
      <label for="customer-scheme">{{ $t('customer-new-scales-of-theirs-tolerance') }}</label>
      <select id="customer-scheme" v-model="form.scheme" class="input">
        <option :value="null">{{ $t('customer-as-the-workshop-s') }}</option>
        <option v-for="s in words?.schemes ?? []" :key="s.value" :value="s.value">{{ s.label }}</option>
      </select>
    </div>
    <div class="field wide">
      <label for="customer-note">{{ $t('customer-what-else-to-know-opening') }}</label>
      <textarea id="customer-note" v-model="form.note" class="input" rows="2"></textarea>
      <p v-if="wrong('note')" class="wrong" role="alert">{{ wrong('note') }}</p>
    </div>
  </fieldset>
</template>

<style scoped>
.plain {
  border: 0;
  padding: 0;
  margin: 0;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(18rem, 1fr));
  gap: 0.8rem 1.5rem;
}
.wide {
  grid-column: 1 / -1;
}
</style>
