import { readonly, ref } from 'vue'

// Whether the server answers, as far as the last request tells.
const answers = ref(true)
const onBack = new Set<() => void>()

export const connection = {
  answers: readonly(answers),
  heard(): void {
    if (answers.value) return
    answers.value = true
    for (const told of onBack) told()
  },
  missed(): void {
    answers.value = false
  },
  /** Tells when the server answers again. */
  whenBack: (told: () => void): void => void onBack.add(told),
}
