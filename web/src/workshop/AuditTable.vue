<script setup lang="ts">
import { say } from '../words'
import { actWord } from '../api/audit'
import type { AuditLine } from '../api/types'
import { momentText } from '../ui/format'
import { vCards } from '../ui/cards'

// Lines of the audit trail, the newest first.
defineProps<{ lines: AuditLine[] }>()
const told = (value: unknown): string =>
  Array.isArray(value) ? value.join(' and ') : value && typeof value === 'object' ? '' : String(value ?? '')
/** What belongs to a line, in a few words. */
function detail(line: AuditLine): string {
  const of = (line.detail ?? {}) as Record<string, unknown>
  if (line.act === 'approval_rule')
    return of.after ? say('audit-table-a-reviewer-approves-each-record') : say('audit-table-records-need-no-approval')
  const parts = ['person', 'name', 'from', 'kind', 'file', 'rows', 'table', 'papers', 'jobs', 'roles']
    .filter((key) => told(of[key]))
    .map((key) => told(of[key]))
  const change = told(of.after) ? [`${told(of.before) || '–'} → ${told(of.after)}`] : []
  return [...parts, ...change].join(', ')
}
</script>

<template>
  <p v-if="!lines.length" class="quiet">{{ $t('audit-table-nothing-of-that-kind') }}</p>
  <table v-else v-cards data-testid="audit">
    <thead>
      <tr>
        <th scope="col">{{ $t('audit-table-when') }}</th>
        <th scope="col">{{ $t('common-who') }}</th>
        <th scope="col">{{ $t('audit-what') }}</th>
        <th scope="col"></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in lines" :key="line.seq">
        <td class="figure">{{ momentText(line.at) }}</td>
        <td>{{ line.name }}</td>
        <td>{{ actWord(line.act) }}</td>
        <td class="small">{{ detail(line) }}</td>
      </tr>
    </tbody>
  </table>
</template>
