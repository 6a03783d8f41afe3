<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useCustomers } from '../api/customers'
import TableLinks from '../ui/TableLinks.vue'
import { session } from '../state/session'
import { refDebounced } from '../state/small'
import { onKey } from '../state/keys'
import { vCards } from '../ui/cards'

// Whose scales are looked after.
const search = ref('')
const asked = refDebounced(search, 120)
const list = useCustomers(asked)
const rows = computed(() => list.data.value?.pages.flatMap((p) => p.customers) ?? [])
const works = computed(() => session.has('technician'))
onKey('search', () => document.getElementById('customer-search')?.focus())
</script>

<template>
  <main id="main" class="page stack">
    <div class="row">
      <h1>{{ $t('common-customers') }}</h1>
      <input
        id="customer-search"
        v-model="search"
        class="input search"
        type="search"
        :placeholder="$t('customers-name-number-address-contact')"
        :aria-label="$t('customers-search-among-the-customers')"
      />
      <span class="push"></span>
      <RouterLink v-if="works" class="btn" :to="{ name: 'new-customer' }">{{ $t('common-new-customer') }}</RouterLink>
      <RouterLink v-if="works" class="btn" :to="{ name: 'intake', query: { kind: 'customers' } }">{{
        $t('common-import-a-table')
      }}</RouterLink>
    </div>
    <p v-if="list.error.value" class="note note-wrong" role="alert">{{ list.error.value.message }}</p>
    <p v-else-if="list.isPending.value" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="!rows.length && asked" class="quiet" role="status">
      {{ $t('customers-no-customer-matches-asked', { asked }) }}
    </p>
    <p v-else-if="!rows.length" class="quiet">
      {{ $t('customers-no-customer-yet-import-the') }}
    </p>
    <div v-else class="scroll">
      <table v-cards>
        <thead>
          <tr>
            <th scope="col">{{ $t('common-name') }}</th>
            <th scope="col">{{ $t('version-list-number') }}</th>
            <th scope="col">{{ $t('customers-address') }}</th>
            <th scope="col">{{ $t('customers-contact') }}</th>
            <th scope="col" class="right">{{ $t('common-scales') }}</th>
            <th scope="col" class="right">{{ $t('customers-due-in-30-days') }}</th>
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
      <Button type="button" :disabled="list.isFetchingNextPage.value" @click="list.fetchNextPage()">{{
        $t('common-more')
      }}</Button>
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
