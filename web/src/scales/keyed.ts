import { api, settled } from '../api/client'
import { queryClient } from '../api/queries'
import { toForm, typedFrom } from './sheet'

/** A scale is keyed by this profile from now on; the rest of its sheet stays. `pattern`: that of lines where the scale
 * has none of its own. */
export async function keyScaleBy(scale: string, profile: { id: string; name: string }, pattern: string): Promise<void> {
  const path = { params: { path: { id: scale } } }
  const found = await settled(api.GET('/api/scales/{id}', path))
  const body = { ...toForm(typedFrom(found, pattern), found, [], []), profile: { id: profile.id, name: profile.name } }
  queryClient.setQueryData(['scale', scale], await settled(api.PUT('/api/scales/{id}', { ...path, body })))
  await queryClient.invalidateQueries({ queryKey: ['profiles'] })
}
