<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { mergeCustomer, removeCustomer, useAllCustomers, type useCustomer } from '../api/customers'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'

type Known = NonNullable<ReturnType<typeof useCustomer>['data']['value']>
const { customer: data } = defineProps<{ customer: Known }>()
const router = useRouter()
// Two that are one.
const merging = useTried()
const other = ref('')
const all = useAllCustomers()
const choices = computed(() => all.value.filter((c) => c.id !== data.id))
async function merge(): Promise<void> {
  const into = other.value
  if (!into) return
  const from = data.id
  if (await merging.tried(() => mergeCustomer(from, into)))
    await router.replace({ name: 'customer', params: { customer: into } })
}
async function remove(): Promise<void> {
  const id = data.id
  if (await merging.tried(() => removeCustomer(id))) await router.replace({ name: 'customers' })
}
</script>

<template>
  <section class="stack tight">
    <h2>{{ $t('customer-merge-with-another-customer') }}</h2>
    <form class="row end" @submit.prevent="merge">
      <div class="field">
        <label for="merge-into">{{ $t('customer-give-all-their-scales-to') }}</label>
        <select id="merge-into" v-model="other" class="input">
          <option value="">{{ $t('customer-choose-a-customer') }}</option>
          <option v-for="c in choices" :key="c.id" :value="c.id">{{ c.name }}</option>
        </select>
      </div>
      <Button type="submit" :disabled="!other">{{ $t('customer-merge-name-is-no-more', { name: data.name }) }}</Button>
      <Button v-if="!data.scales" type="button" @click="remove">{{ $t('customer-delete-this-customer') }}</Button>
    </form>
    <RefusalNote :failure="merging.failure.value" />
  </section>
</template>
