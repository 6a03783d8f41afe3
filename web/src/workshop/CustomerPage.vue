<script setup lang="ts">
import Button from 'primevue/button'
import { v7 } from 'uuid'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import {
  addCustomer,
  changeCustomer,
  mergeCustomer,
  removeCustomer,
  useCustomer,
  useAllCustomers,
} from '../api/customers'
import { useScales, useVocabulary } from '../api/scales'
import type { Customer } from '../api/types'
import OwnerLinks from './OwnerLinks.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'

// One customer: what stands on certificates, whom to call, what is agreed, and their scales.
const props = defineProps<{ customer?: string }>()
const router = useRouter()
const { data, error } = useCustomer(() => props.customer ?? null)
const { data: words } = useVocabulary()
const scales = useScales(
  () => '',
  () => props.customer ?? null,
)
const theirs = computed(() => (props.customer ? (scales.data.value?.pages.flatMap((p) => p.scales) ?? []) : []))
const works = computed(() => session.has('technician'))
const manages = computed(() => session.has('manager'))
const blank = (): Required<Customer> => ({
  id: v7(),
  number: '',
  name: '',
  address: '',
  invoice_address: '',
  contact: '',
  email: '',
  telephone: '',
  interval_months: null,
  scheme: null,
  language: null,
  note: '',
})
const form = reactive(blank())
const version = ref(0)
const saved = ref(false)
watch(
  data,
  (now) => {
    if (!now) return
    const known = Object.keys(blank()) as (keyof Customer)[]
    Object.assign(form, blank(), Object.fromEntries(known.map((key) => [key, now[key]])))
    version.value = now.version
  },
  { immediate: true },
)
const saving = useTried()
const fields = [
  'number',
  'name',
  'address',
  'invoice_address',
  'contact',
  'email',
  'telephone',
  'interval_months',
  'note',
]
async function save(): Promise<void> {
  saved.value = false
  await saving.tried(async () => {
    if (props.customer) {
      version.value = (await changeCustomer({ ...form }, version.value)).version
      saved.value = true
    } else {
      const { id } = await addCustomer({ ...form })
      await router.replace({ name: 'customer', params: { customer: id } })
    }
  })
}
// Two that are one.
const merging = useTried()
const other = ref('')
const all = useAllCustomers()
const choices = computed(() => all.value.filter((c) => c.id !== props.customer))
async function merge(): Promise<void> {
  const into = other.value
  if (!props.customer || !into) return
  const from = props.customer
  if (await merging.tried(() => mergeCustomer(from, into)))
    await router.replace({ name: 'customer', params: { customer: into } })
}
async function remove(): Promise<void> {
  const id = props.customer
  if (id && (await merging.tried(() => removeCustomer(id)))) await router.replace({ name: 'customers' })
}
</script>

<template>
  <main id="main" class="page stack">
    <h1>{{ customer ? (data?.name ?? $t('common-customer')) : $t('common-new-customer') }}</h1>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <form v-if="!customer || data" class="stack" @submit.prevent="save">
      <fieldset class="plain grid" :disabled="!works">
        <TextField
          id="customer-name"
          v-model="form.name"
          :label="$t('customer-name-as-it-stands-on')"
          :wrong="saving.wrong('name')"
        />
        <TextField
          id="customer-number"
          v-model="form.number"
          :label="$t('customer-your-number-for-them')"
          figure
          :wrong="saving.wrong('number')"
        />
        <div class="field">
          <label for="customer-address">{{ $t('customer-address-as-it-stands-on') }}</label>
          <textarea id="customer-address" v-model="form.address" class="input" rows="3"></textarea>
          <p v-if="saving.wrong('address')" class="wrong" role="alert">{{ saving.wrong('address') }}</p>
        </div>
        <div class="field">
          <label for="customer-invoice">{{ $t('customer-where-invoices-go-where-that') }}</label>
          <textarea id="customer-invoice" v-model="form.invoice_address" class="input" rows="3"></textarea>
          <p v-if="saving.wrong('invoice_address')" class="wrong" role="alert">{{ saving.wrong('invoice_address') }}</p>
        </div>
        <TextField
          id="customer-contact"
          v-model="form.contact"
          :label="$t('customer-whom-to-ask-for')"
          :wrong="saving.wrong('contact')"
        />
        <TextField
          id="customer-telephone"
          v-model="form.telephone"
          :label="$t('customer-telephone')"
          figure
          :wrong="saving.wrong('telephone')"
        />
        <TextField
          id="customer-email"
          v-model="form.email"
          :label="$t('customer-mail-for-reminders')"
          :wrong="saving.wrong('email')"
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
          <p v-if="saving.wrong('interval_months')" class="wrong" role="alert">{{ saving.wrong('interval_months') }}</p>
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
          <p v-if="saving.wrong('note')" class="wrong" role="alert">{{ saving.wrong('note') }}</p>
        </div>
      </fieldset>
      <RefusalNote :failure="saving.general(fields)" />
      <p v-if="customer && data?.scales" class="small quiet">
        {{ $t('customer-a-changed-name-or-address') }}
      </p>
      <div v-if="works" class="row">
        <Button type="submit" class="btn-next" :disabled="saving.busy.value">{{
          customer ? $t('common-save') : $t('customer-add-customer')
        }}</Button>
        <span v-if="saved" role="status">{{ $t('common-saved') }}</span>
      </div>
    </form>
    <template v-if="customer && data">
      <section class="stack tight">
        <div class="row">
          <h2>{{ $t('common-scales') }}</h2>
          <RouterLink v-if="works" class="btn" :to="{ name: 'new-scale', query: { customer } }">{{
            $t('common-new-scale')
          }}</RouterLink>
          <RouterLink class="btn btn-bare" :to="{ name: 'records', query: { customer } }">{{
            $t('customer-their-records')
          }}</RouterLink>
        </div>
        <p v-if="!theirs.length" class="quiet">{{ $t('customer-no-scale-is-theirs') }}</p>
        <table v-else>
          <tbody>
            <tr v-for="s in theirs" :key="s.sheet.id">
              <td>
                <RouterLink :to="{ name: 'scale', params: { scale: s.sheet.id } }"
                  ><strong>{{ s.sheet.name }}</strong></RouterLink
                >
              </td>
              <td>{{ s.sheet.place }}</td>
              <td class="figure">{{ s.sheet.serial }}</td>
              <td class="figure">
                {{ s.next_due ? $t('route-due-next-due', { next_due: dayText(s.next_due) }) : '' }}
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="scales.hasNextPage.value">
          <Button type="button" @click="scales.fetchNextPage()">{{ $t('common-more') }}</Button>
        </p>
      </section>
      <OwnerLinks v-if="works" :customer="customer" />
      <section v-if="manages" class="stack tight">
        <h2>{{ $t('customer-merge-with-another-customer') }}</h2>
        <form class="row end" @submit.prevent="merge">
          <div class="field">
            <label for="merge-into">{{ $t('customer-give-all-their-scales-to') }}</label>
            <select id="merge-into" v-model="other" class="input">
              <option value="">{{ $t('customer-choose-a-customer') }}</option>
              <option v-for="c in choices" :key="c.id" :value="c.id">{{ c.name }}</option>
            </select>
          </div>
          <Button type="submit" :disabled="!other">{{
            $t('customer-merge-name-is-no-more', { name: data.name })
          }}</Button>
          <Button v-if="!data.scales" type="button" @click="remove">{{ $t('customer-delete-this-customer') }}</Button>
        </form>
        <RefusalNote :failure="merging.failure.value" />
      </section>
    </template>
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 64rem;
}
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
