import { type Ref, ref, watch } from 'vue'
import { Failure } from '../../api/client'
import type { Draft, ReadStage, ReadingView } from '../../api/types'
import { hasCore } from '../../offline/core'
import type { JobContext } from '../useJob'

/** Still for so long, what stands in the form is looked at: at once by the page's own core, else not at every key. */
const STILL_MS = hasCore ? 15 : 140

/** What would come of the reading that is being made, as one types; it always belongs to what stands in the form. */
export function usePreview(
  job: JobContext,
  from: {
    stage: () => ReadStage
    draft: () => Draft
    inForm: () => string
    complete: () => boolean
    changed: () => void
  },
): { preview: Ref<ReadingView | null>; warning: Ref<Failure | null> } {
  const preview = ref<ReadingView | null>(null)
  const warning = ref<Failure | null>(null) as Ref<Failure | null>
  let timer: ReturnType<typeof setTimeout> | undefined
  watch(from.inForm, () => {
    clearTimeout(timer)
    preview.value = null
    warning.value = null
    from.changed()
    if (from.complete()) timer = setTimeout(() => void look(), STILL_MS)
  })
  async function look(): Promise<void> {
    const asked = from.inForm()
    try {
      const { assessment } = await job.tryOut(from.draft())
      const phase = from.stage() === 'as_found' ? assessment.as_found : assessment.proof
      if (asked === from.inForm()) preview.value = phase.readings.at(-1) ?? null
    } catch (error) {
      if (error instanceof Failure && error.status === 422 && asked === from.inForm()) warning.value = error
    }
  }
  return { preview, warning }
}
