import { useInfiniteQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { say } from '../words'
import type { AuditAct, GenuineReply } from './types'

const words: Record<AuditAct, string> = {
  approval_rule: 'audit-approval-of-records',
  letterhead: 'audit-letterhead-and-texts',
  judgement: 'audit-how-causes-are-judged',
  job_imported: 'audit-job-file-imported',
  archive_exported: 'audit-archive-exported',
  archive_imported: 'audit-archive-imported',
  calendar_address: 'audit-new-calendar-address',
  signed_in: 'audit-signed-in',
  sign_in_refused: 'audit-refused-at-sign-in',
  signed_out: 'audit-signed-out',
  workshop_set_up: 'audit-workshop-set-up',
  invited: 'audit-invited',
  joined: 'audit-joined',
  roles_changed: 'audit-roles-changed',
  deactivated: 'audit-deactivated',
  reactivated: 'audit-activated-again',
  password_link: 'audit-link-for-a-new-password',
  password_changed: 'audit-password-changed',
  name_changed: 'audit-name-changed',
  sessions_ended: 'audit-session-ended',
  reminder_rules: 'audit-reminders-changed',
  owner_link_made: 'audit-link-for-a-customer-made',
  owner_link_ended: 'audit-link-for-a-customer-deleted',
  practice_removed: 'audit-practice-deleted',
  person_reduced: 'audit-personal-data-deleted',
  customer_changed: 'audit-customer-changed',
  customers_merged: 'audit-customers-merged',
  customer_removed: 'audit-customer-removed',
  table_imported: 'audit-table-imported',
  import_undone: 'audit-import-undone',
  table_exported: 'audit-list-exported',
  papers_exported: 'audit-papers-exported',
  second_factor_on: 'audit-second-factor-switched-on',
  second_factor_off: 'audit-second-factor-switched-off',
  recovery_code_used: 'audit-recovery-code-used',
  device_made: 'audit-device-added',
  device_revoked: 'audit-device-blocked',
  token_made: 'audit-api-token-made',
  token_ended: 'audit-api-token-deleted',
}

/** Every act of the trail. */
export const auditActs = Object.keys(words) as AuditAct[]
/** An act in words. */
export const actWord = (act: AuditAct): string => say(words[act])

export interface AuditAsked {
  act?: AuditAct
  person?: string
  from?: string
  to?: string
}

/** The audit trail as it is filtered, for whoever may see it. */
export function useAudit(may: MaybeRefOrGetter<boolean>, asked: MaybeRefOrGetter<AuditAsked>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['audit', toValue(asked)]),
    queryFn: ({ pageParam }) =>
      settled(api.GET('/api/audit', { params: { query: { ...toValue(asked), before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    enabled: computed(() => toValue(may)),
  })
}

/** Whether a paper is genuine; nobody has to sign in to ask. */
export function askGenuine(job: string, code: string): Promise<GenuineReply> {
  return settled(api.GET('/api/genuine/{job}/{code}', { params: { path: { job, code } } }))
}
