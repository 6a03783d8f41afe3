import { useQuery } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, computed, toValue } from 'vue'
import { ask, hasCore } from '../offline/core'
import { Failure, api, settled } from './client'
import { queryClient } from './queries'
import type {
  OperatingSettingsForm,
  CalculatorAnswer,
  CalculatorQuestion,
  KeyAct,
  KeyingReply,
  MachineView,
  MessageView,
  Message,
  Profile,
  ProfileChecked,
  ProfileDifference,
  ProfilePart,
  Proof,
  ProofForm,
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

/** The text of a profile as it is changed in a form; comments beside what did not change stay. */
export async function rewriteProfile(text: string, profile: Profile): Promise<string> {
  return (await settled(api.POST('/api/profiles/rewrite', { body: { text, profile } }))).text
}

export function compareProfiles(here: string, there: string): Promise<ProfileDifference[]> {
  return settled(api.POST('/api/profiles/compare', { body: { here, there } }))
}

/** A profile with parts of another, not kept yet. */
export async function mergeProfiles(here: string, there: string, take: ProfilePart[]): Promise<string> {
  return (await settled(api.POST('/api/profiles/merge', { body: { here, there, take } }))).text
}

export async function addMessage(profile: string, body: Message): Promise<ProfileText> {
  const kept = await settled(api.POST('/api/profiles/{id}/messages', { params: { path: { id: profile } }, body }))
  queryClient.setQueryData(['profile', kept.id], kept)
  await queryClient.invalidateQueries({ queryKey: ['profiles'] })
  return kept
}

export function useEditions(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['editions', toValue(id)]),
    queryFn: () => settled(api.GET('/api/profiles/{id}/editions', { params: { path: { id: toValue(id) } } })),
  })
}

export const readProfile = (id: string): Promise<ProfileText> =>
  settled(api.GET('/api/profiles/{id}', { params: { path: { id } } }))

export const readEdition = (id: string, edition: number): Promise<ProfileText> =>
  settled(api.GET('/api/profiles/{id}/editions/{edition}', { params: { path: { id, edition } } }))

/** What visits said of a profile. */
export function useProofs(profile: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['proofs', toValue(profile)]),
    queryFn: () => settled(api.GET('/api/profiles/{id}/proofs', { params: { path: { id: toValue(profile) } } })),
  })
}

/** What a job said of its keying sheet. */
export function useProofOfJob(job: string) {
  return useQuery({
    queryKey: ['proof-of-job', job],
    queryFn: () => settled(api.GET('/api/jobs/{id}/keying/proof', { params: { path: { id: job } } })),
  })
}

export async function prove(job: string, body: ProofForm): Promise<Proof[]> {
  const said = await settled(api.POST('/api/jobs/{id}/keying/proof', { params: { path: { id: job } }, body }))
  queryClient.setQueryData(['proof-of-job', job], said)
  await queryClient.invalidateQueries({ queryKey: ['profiles'] })
  await queryClient.invalidateQueries({ queryKey: ['proofs'] })
  return said
}

export function runMachine(
  what: { profile?: string; text?: string; job?: string },
  acts: KeyAct[],
): Promise<MachineView> {
  const told = settled(api.POST('/api/profiles/run', { body: { ...what, acts } }))
  // A text can be played by the page's own core, where the server does not answer.
  return told.catch((failure) => {
    if (!what.text || !hasCore || !(failure instanceof Failure && failure.passes)) throw failure
    return ask<MachineView>({ ask: 'machine', text: what.text, acts })
  })
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

export function askCalculator(body: CalculatorQuestion): Promise<CalculatorAnswer> {
  return settled(api.POST('/api/calculators', { body }))
}
