import { type Ref, computed, ref, watch } from 'vue'
import { Failure } from '../api/client'
import { checkProfile, keepProfile, rewriteProfile, useProfile } from '../api/profiles'
import type { Profile, ProfileChecked } from '../api/types'
import { type Tried, useTried } from '../state/tried'
import { useTyped } from '../state/typed'
import { v7 as uuidv7 } from 'uuid'
import starter from './starter.toml?raw'

// A profile while it is changed: its text is the one truth, what is typed in the form goes into it.

const WAIT_MS = 150

export interface ProfileText {
  data: ReturnType<typeof useProfile>['data']
  error: ReturnType<typeof useProfile>['error']
  text: Ref<string>
  checked: Ref<ProfileChecked | null>
  /** What the form edits; null until the text was understood once. */
  form: Ref<Profile | null>
  changed: Ref<boolean>
  sending: Tried
  /** Keeps it; its identity. */
  keep: () => Promise<string | null>
}

type Show = (profile: Profile, of: string) => void

const copy = <T>(what: T): T => JSON.parse(JSON.stringify(what)) as T

/** A form beside the text: what is changed in it is written into the text. */
function useForm(text: Ref<string>, sending: Tried): Pick<ProfileText, 'form'> & { show: Show } {
  const form = ref<Profile | null>(null)
  /** What the form says, and the text that it was written into. */
  let said = ''
  let written = ''
  // A text that somebody typed is what the form shows; its own it has already.
  const show: Show = (profile, of) => {
    if (of === written) return
    form.value = copy(profile)
    said = JSON.stringify(form.value)
    written = of
  }
  let typing: ReturnType<typeof setTimeout> | undefined
  async function write(): Promise<void> {
    const now = JSON.stringify(form.value)
    if (!form.value || now === said) return
    said = now
    await sending.tried(async () => {
      const next = await rewriteProfile(text.value, copy(form.value as Profile))
      if (said !== now) return
      written = next
      text.value = next
    })
  }
  watch(
    form,
    () => {
      clearTimeout(typing)
      typing = setTimeout(() => void write(), WAIT_MS)
    },
    { deep: true },
  )
  return { form, show }
}

export function useProfileText(profile: () => string | undefined): ProfileText {
  const { data, error } = useProfile(profile)
  // What is typed is kept until it is saved, also across a reload.
  const text = useTyped(
    () => `profile.${profile() ?? 'new'}`,
    () => (profile() ? (data.value?.text ?? '') : starter),
  )
  watch(
    data,
    (now) => {
      if (now && !text.value) text.value = now.text
    },
    { immediate: true },
  )
  const checked = ref<ProfileChecked | null>(null)
  const sending = useTried()
  const changed = computed(() => text.value !== (data.value?.text ?? starter))

  const { form, show } = useForm(text, sending)
  let timer: ReturnType<typeof setTimeout> | undefined
  async function check(asked: string): Promise<void> {
    if (!asked) return
    try {
      const told = await checkProfile(asked)
      if (asked !== text.value) return
      checked.value = told
      sending.failure.value = null
      if (told.profile) show(told.profile, asked)
    } catch (told) {
      if (told instanceof Failure) sending.failure.value = told
    }
  }
  watch(
    text,
    (now) => {
      clearTimeout(timer)
      timer = setTimeout(() => void check(now), WAIT_MS)
    },
    { immediate: true },
  )

  async function keep(): Promise<string | null> {
    let id: string | null = null
    await sending.tried(async () => {
      const body = { id: data.value?.id ?? uuidv7(), text: text.value, edition: data.value?.edition ?? 0 }
      id = (await keepProfile(body)).id
      if (!profile()) text.value = starter
    })
    return id
  }
  return { data, error, text, checked, form, changed, sending, keep }
}
