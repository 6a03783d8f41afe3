<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive } from 'vue'
import { actWord, auditActs, useAudit } from '../api/audit'
import type { AuditAct } from '../api/types'
import AuditTable from './AuditTable.vue'
import TableLinks from '../ui/TableLinks.vue'
import { session } from '../state/session'

// Who did what that others rest on, the newest first; for managers and auditors.
const may = computed(() => session.has('manager') || session.has('reader'))
const asked = reactive({ act: '' as AuditAct | '', person: '', from: '', to: '' })
const filter = computed(() => ({
  ...(asked.act && { act: asked.act }),
  ...(asked.person && { person: asked.person }),
  ...(asked.from && { from: asked.from }),
  ...(asked.to && { to: asked.to }),
}))
const trail = useAudit(may, filter)
const lines = computed(() => trail.data.value?.pages.flatMap((p) => p.lines) ?? [])
const people = computed(() => trail.data.value?.pages[0]?.people ?? [])
</script>

<template>
  <main id="main" class="page stack">
    <h1>{{ $t('common-audit-trail') }}</h1>
    <p class="quiet lead">
      {{ $t('audit-who-did-what-that-others') }}
      <span class="figure">ombret verify</span> {{ $t('audit-checks-them-all') }}
    </p>
    <p v-if="!may" class="note">{{ $t('audit-the-audit-trail-is-for') }}</p>
    <template v-else>
      <form class="row end no-print" :aria-label="$t('records-filters')" @submit.prevent>
        <label class="field"
          ><span>{{ $t('audit-what') }}</span
          ><select v-model="asked.act" class="input">
            <option value="">{{ $t('audit-everything') }}</option>
            <option v-for="act in auditActs" :key="act" :value="act">{{ actWord(act) }}</option>
          </select></label
        >
        <label class="field"
          ><span>{{ $t('common-who') }}</span
          ><select v-model="asked.person" class="input">
            <option value="">{{ $t('records-anybody') }}</option>
            <option v-for="p in people" :key="p.person" :value="p.person">{{ p.name }}</option>
          </select></label
        >
        <label class="field"
          ><span>{{ $t('common-from') }}</span
          ><input v-model="asked.from" class="input" type="date"
        /></label>
        <label class="field"
          ><span>{{ $t('records-to') }}</span
          ><input v-model="asked.to" class="input" type="date"
        /></label>
      </form>
      <p v-if="trail.error.value" class="note note-wrong" role="alert">{{ trail.error.value.message }}</p>
      <p v-else-if="trail.isPending.value" class="quiet" role="status">{{ $t('common-looking') }}</p>
      <AuditTable v-else :lines="lines" />
      <p v-if="trail.hasNextPage.value">
        <Button type="button" :disabled="trail.isFetchingNextPage.value" @click="trail.fetchNextPage()">{{
          $t('common-more')
        }}</Button>
      </p>
      <TableLinks what="audit" :label="$t('audit-the-whole-trail-as-a')" />
    </template>
  </main>
</template>

<style scoped>
.page {
  padding: 1rem 1.25rem 2rem;
  max-width: 70rem;
}
.lead {
  max-width: 44rem;
}
</style>
