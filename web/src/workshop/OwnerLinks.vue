<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import { endOwnerLink, makeOwnerLink, useOwnerLinks } from '../api/customers'
import { useTried } from '../state/tried'
import { dayText, momentText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'

// Links by which a customer sees their own scales and papers.
const props = defineProps<{ customer: string }>()
const { data } = useOwnerLinks(() => props.customer)
const days = ref(365)
const made = ref('')
const { failure, tried } = useTried()
async function make(): Promise<void> {
  made.value = ''
  await tried(async () => {
    made.value = `${location.origin}${await makeOwnerLink(props.customer, days.value)}`
  })
}
</script>

<template>
  <section class="stack tight" aria-labelledby="owner-links">
    <h2 id="owner-links">{{ $t('owner-links-customer-access') }}</h2>
    <p class="small quiet">
      {{ $t('owner-links-by-a-link-the-customer') }}
    </p>
    <ul v-if="data?.length">
      <li v-for="l in data" :key="l.id" class="row">
        <span>{{
          $t('owner-links-made-by-by-until-expires', {
            by: l.by,
            expires_at: dayText(l.expires_at),
            yet: l.used_at
              ? $t('owner-links-used-used-at', { used_at: momentText(l.used_at) })
              : $t('owner-links-not-used-yet'),
          })
        }}</span>
        <Button type="button" @click="tried(() => endOwnerLink(l.id, customer))">{{ $t('owner-links-delete') }}</Button>
      </li>
    </ul>
    <p v-if="made" class="note" role="status" data-testid="owner-link">
      {{ $t('owner-links-it-is-shown-this-once') }} <span class="figure address">{{ made }}</span>
    </p>
    <form class="row end" @submit.prevent="make">
      <label class="field"
        ><span>{{ $t('owner-links-it-opens-for') }}</span
        ><select v-model="days" class="input">
          <option :value="30">{{ $t('owner-links-a-month') }}</option>
          <option :value="365">{{ $t('owner-links-a-year') }}</option>
          <option :value="730">{{ $t('owner-links-two-years') }}</option>
        </select></label
      >
      <Button type="submit">{{ $t('owner-links-make-a-link') }}</Button>
    </form>
    <RefusalNote :failure="failure" />
  </section>
</template>

<style scoped>
.address {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
