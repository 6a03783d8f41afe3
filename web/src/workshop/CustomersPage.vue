<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useCustomers } from '../api/customers'
import TableLinks from '../ui/TableLinks.vue'
import { session } from '../state/session'
import { onKeyStroke, refDebounced } from '../state/small'

// Whose scales are looked after.
const search = ref('')
const asked = refDebounced(search, 120)
const list = useCustomers(asked)
const rows = computed(() => list.data.value?.pages.flatMap((p) => p.customers) ?? [])
const works = computed(() => session.has('technician'))
onKeyStroke('/', () => document.getElementById('customer-search')?.focus())
</script>

<template>
  <main id="main" class="page stack">
    <div class="row">
      <h1>Customers</h1>
      <input
        id="customer-search"
        v-model="search"
        class="input search"
        type="search"
        placeholder="Name, number, address, contact"
        aria-label="Search among the customers"
      />
      <span class="push"></span>
      <RouterLink v-if="works" class="btn" :to="{ name: 'new-customer' }">New customer</RouterLink>
      <RouterLink v-if="works" class="btn" :to="{ name: 'intake', query: { kind: 'customers' } }"
        >Import a table</RouterLink
      >
    </div>
    <p v-if="list.error.value" class="note note-wrong" role="alert">{{ list.error.value.message }}</p>
    <p v-else-if="list.isPending.value" class="quiet" role="status">Looking …</p>
    <p v-else-if="!rows.length && asked" class="quiet" role="status">No customer matches “{{ asked }}”.</p>
    <p v-else-if="!rows.length" class="quiet">
      No customer yet. Import the table you have, add the first one, or add a scale: its owner becomes a customer.
    </p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Number</th>
            <th scope="col">Address</th>
            <th scope="col">Contact</th>
            <th scope="col" class="right">Scales</th>
            <th scope="col" class="right">Due in 30 days</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in rows" :key="c.id">
            <td>
              <RouterLink :to="{ name: 'customer', params: { customer: c.id } }"
                ><strong>{{ c.name }}</strong></RouterLink
              >
            </td>
            <td class="figure">{{ c.number }}</td>
            <td class="small">{{ (c.address ?? '').split('\n').join(', ') }}</td>
            <td class="small">{{ [c.contact, c.telephone, c.email].filter(Boolean).join(', ') }}</td>
            <td class="figure right">{{ c.scales }}</td>
            <td class="figure right" :class="{ late: c.due }">{{ c.due || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="list.hasNextPage.value">
      <Button type="button" :disabled="list.isFetchingNextPage.value" @click="list.fetchNextPage()">More</Button>
    </p>
    <TableLinks what="customers" />
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 80rem;
}
.search {
  width: 18rem;
}
.scroll {
  overflow-x: auto;
}
.late {
  color: var(--light-ink);
}
</style>
