<script setup lang="ts">
import { say } from '../words'
import { computed } from 'vue'
import type { RecordsAsked, TableOf } from '../api/types'

// A list as a file: what is filtered, where it is.
const props = defineProps<{ what: TableOf; label?: string; asked?: RecordsAsked }>()
const path = (form: string) => {
  const query = new URLSearchParams({ form })
  for (const [name, value] of Object.entries(props.asked ?? {}))
    if (value !== null && value !== undefined && value !== '') query.set(name, String(value))
  return `/api/tables/${props.what}?${query}`
}
const called = computed(() => props.label ?? say('table-links-this-list-as-a-table'))
</script>

<template>
  <p class="small row tight no-print">
    <span class="quiet">{{ called }}:</span>
    <a class="btn btn-bare" :href="path('xlsx')" download :aria-label="$t('table-links-called-xlsx', { called })">{{
      $t('table-links-xlsx')
    }}</a><a class="btn btn-bare" :href="path('csv')" download :aria-label="$t('table-links-called-csv', { called })">{{
      $t('table-links-csv')
    }}</a>
  </p>
</template>
