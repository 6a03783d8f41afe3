<script setup lang="ts">
import Button from 'primevue/button'
import { v7 } from 'uuid'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { addCustomer, changeCustomer, useCustomer } from '../api/customers'
import { useScales } from '../api/scales'
import type { Customer } from '../api/types'
import CustomerFields from './CustomerFields.vue'
import CustomerMerge from './CustomerMerge.vue'
import OwnerLinks from './OwnerLinks.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'
import { vCards } from '../ui/cards'

// One customer: what stands on certificates, whom to call, what is agreed, and their scales.
const props = defineProps<{ customer?: string }>()
const router = useRouter()
const { data, error } = useCustomer(() => props.customer ?? null)
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
const form = ref(blank())
const version = ref(0)
const saved = ref(false)
watch(
  data,
  (now) => {
    if (!now) return
    const known = Object.keys(blank()) as (keyof Customer)[]
    form.value = Object.assign(blank(), Object.fromEntries(known.map((key) => [key, now[key]])))
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
      version.value = (await changeCustomer({ ...form.value }, version.value)).version
      saved.value = true
    } else {
      const { id } = await addCustomer({ ...form.value })
      await router.replace({ name: 'customer', params: { customer: id } })
    }
  })
}
</script>

<template>
  <main id="main" class="page stack">
    <h1>{{ customer ? (data?.name ?? $t('common-customer')) : $t('common-new-customer') }}</h1>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <form v-if="!customer || data" class="stack" @submit.prevent="save">
      <CustomerFields v-model="form" :wrong="saving.wrong" :disabled="!works" />
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
        <table v-else v-cards>
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
      <CustomerMerge v-if="manages" :customer="data" />
    </template>
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 64rem;
}
</style>
