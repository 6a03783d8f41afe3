import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { api, settled } from './client'
import { queryClient } from './queries'
import type {
  OperatingSettingsForm,
  DeskAnswer,
  DeskQuestion,
  KeyAct,
  KeyingReply,
  MachineView,
  MessageView,
  ProfileChecked,
  ProfileText,
  SetupDraft,
  Site,
} from './types'

export function useProfiles() {
  return useQuery({ queryKey: ['profiles'], queryFn: () => settled(api.GET('/api/profiles')) })
}

export function useProfile(id: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: computed(() => ['profile', toValue(id)]),
    queryFn: () => settled(api.GET('/api/profiles/{id}', { params: { path: { id: toValue(id) ?? '' } } })),
    enabled: computed(() => Boolean(toValue(id))),
  })
}

export async function keepProfile(body: {
  id: string
  text: string
  edition: number
  file_name?: string
}): Promise<ProfileText> {
  const kept = await settled(api.PUT('/api/profiles', { body }))
  queryClient.setQueryData(['profile', kept.id], kept)
  await queryClient.invalidateQueries({ queryKey: ['profiles'] })
  return kept
}

export function checkProfile(text: string): Promise<ProfileChecked> {
  return settled(api.POST('/api/profiles/check', { body: { text } }))
}

export function runMachine(
  what: { profile?: string; text?: string; job?: string },
  acts: KeyAct[],
): Promise<MachineView> {
  return settled(api.POST('/api/profiles/run', { body: { ...what, acts } }))
}

export function askKeying(
  job: string,
  setup: SetupDraft | null,
  weights: string[],
  beside: { factor?: string; operating?: OperatingSettingsForm } = {},
): Promise<KeyingReply> {
  const body = { setup, weights, ...beside }
  return settled(api.POST('/api/jobs/{id}/keying', { params: { path: { id: job } }, body }))
}

export function askMessages(job: string, shown: string): Promise<MessageView[]> {
  return settled(api.POST('/api/jobs/{id}/messages', { params: { path: { id: job } }, body: { shown } }))
}

export function useSites() {
  return useQuery({ queryKey: ['sites'], queryFn: () => settled(api.GET('/api/sites')) })
}

export async function keepSite(body: { name: string; latitude: string; altitude: string }): Promise<Site> {
  const kept = await settled(api.PUT('/api/sites', { body }))
  await queryClient.invalidateQueries({ queryKey: ['sites'] })
  return kept
}

export function askDesk(body: DeskQuestion): Promise<DeskAnswer> {
  return settled(api.POST('/api/desk', { body }))
}
