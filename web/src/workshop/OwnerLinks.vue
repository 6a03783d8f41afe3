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
    <h2 id="owner-links">Customer access</h2>
    <p class="small quiet">
      By a link the customer sees their own scales, when each is due, and their papers; nothing else, and nothing can be
      changed.
    </p>
    <ul v-if="data?.length">
      <li v-for="l in data" :key="l.id" class="row">
        <span
          >made by {{ l.by }}, until {{ dayText(l.expires_at) }},
          {{ l.used_at ? `used ${momentText(l.used_at)}` : 'not used yet' }}</span
        >
        <Button type="button" @click="tried(() => endOwnerLink(l.id, customer))">Delete</Button>
      </li>
    </ul>
    <p v-if="made" class="note" role="status" data-testid="owner-link">
      It is shown this once: <span class="figure address">{{ made }}</span>
    </p>
    <form class="row end" @submit.prevent="make">
      <label class="field"
        ><span>It opens for</span
        ><select v-model="days" class="input">
          <option :value="30">a month</option>
          <option :value="365">a year</option>
          <option :value="730">two years</option>
        </select></label
      >
      <Button type="submit">Make a link</Button>
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
