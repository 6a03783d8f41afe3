import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type { JudgementReply, JudgementRules, RulesReply } from './types'

/** What the readings tell, anew with each entry, while it is wanted. */
export function useDiagnosis(
  job: string,
  stage: 'as_found' | 'prove',
  entries: MaybeRefOrGetter<number>,
  wanted: MaybeRefOrGetter<boolean> = true,
) {
  return useQuery({
    enabled: computed(() => toValue(wanted)),
    queryKey: computed(() => ['diagnosis', job, stage, toValue(entries)]),
    queryFn: (): Promise<JudgementReply> =>
      settled(api.GET('/api/jobs/{id}/diagnosis', { params: { path: { id: job }, query: { stage } } })),
    placeholderData: keepPreviousData,
  })
}

export function useRules() {
  return useQuery({ queryKey: ['judgement'], queryFn: (): Promise<RulesReply> => settled(api.GET('/api/priors')) })
}

export async function keepRules(rules: JudgementRules): Promise<void> {
  queryClient.setQueryData(['judgement'], await settled(api.PUT('/api/priors', { body: rules })))
  await queryClient.invalidateQueries({ queryKey: ['diagnosis'] })
}
