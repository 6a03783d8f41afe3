<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive } from 'vue'
import { auditActs, useAudit } from '../api/audit'
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
    <h1>Audit trail</h1>
    <p class="quiet lead">
      Who did what that others rest on. Nothing of it can be changed: each line is sealed over the one before it, and
      <span class="figure">ombret verify</span> checks them all.
    </p>
    <p v-if="!may" class="note">The audit trail is for managers and readers.</p>
    <template v-else>
      <form class="row end no-print" aria-label="Filters" @submit.prevent>
        <label class="field"
          ><span>What</span
          ><select v-model="asked.act" class="input">
            <option value="">everything</option>
            <option v-for="[act, label] in auditActs" :key="act" :value="act">{{ label }}</option>
          </select></label
        >
        <label class="field"
          ><span>Who</span
          ><select v-model="asked.person" class="input">
            <option value="">anybody</option>
            <option v-for="p in people" :key="p.person" :value="p.person">{{ p.name }}</option>
          </select></label
        >
        <label class="field"><span>From</span><input v-model="asked.from" class="input" type="date" /></label>
        <label class="field"><span>To</span><input v-model="asked.to" class="input" type="date" /></label>
      </form>
      <p v-if="trail.error.value" class="note note-wrong" role="alert">{{ trail.error.value.message }}</p>
      <p v-else-if="trail.isPending.value" class="quiet" role="status">Looking …</p>
      <AuditTable v-else :lines="lines" />
      <p v-if="trail.hasNextPage.value">
        <Button type="button" :disabled="trail.isFetchingNextPage.value" @click="trail.fetchNextPage()">More</Button>
      </p>
      <TableLinks what="audit" label="The whole trail as a table" />
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
