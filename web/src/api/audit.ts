import { useInfiniteQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import type { AuditAct, GenuineReply } from './types'

const words: Record<AuditAct, string> = {
  approval_rule: 'Approval of records',
  letterhead: 'Letterhead and texts',
  judgement: 'How causes are judged',
  job_imported: 'Job file imported',
  archive_exported: 'Archive exported',
  archive_imported: 'Archive imported',
  calendar_address: 'New calendar address',
  signed_in: 'Signed in',
  sign_in_refused: 'Refused at sign-in',
  signed_out: 'Signed out',
  workshop_set_up: 'Workshop set up',
  invited: 'Invited',
  joined: 'Joined',
  roles_changed: 'Roles changed',
  deactivated: 'Deactivated',
  reactivated: 'Activated again',
  password_link: 'Link for a new password',
  password_changed: 'Password changed',
  name_changed: 'Name changed',
  sessions_ended: 'Session ended',
  reminder_rules: 'Reminders changed',
  owner_link_made: 'Link for a customer made',
  owner_link_ended: 'Link for a customer deleted',
  practice_removed: 'Practice deleted',
  person_reduced: 'Personal data deleted',
  customer_changed: 'Customer changed',
  customers_merged: 'Customers merged',
  customer_removed: 'Customer removed',
  table_imported: 'Table imported',
  import_undone: 'Import undone',
  table_exported: 'List exported',
  papers_exported: 'Papers exported',
  second_factor_on: 'Second factor switched on',
  second_factor_off: 'Second factor switched off',
  recovery_code_used: 'Recovery code used',
  token_made: 'API token made',
  token_ended: 'API token deleted',
}

/** Every act of the trail with its words. */
export const auditActs = Object.entries(words) as [AuditAct, string][]
export const actWord = (act: AuditAct): string => words[act]

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
