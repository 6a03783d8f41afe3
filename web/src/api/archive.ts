import { useQuery } from '@tanstack/vue-query'
import { Failure, api, settled } from './client'
import { queryClient } from './queries'
import type { Problem, TaskView } from './types'

/** Long work of the workshop; asked again while some is under way. */
export function useTasks() {
  return useQuery({
    queryKey: ['archive'],
    queryFn: (): Promise<TaskView[]> => settled(api.GET('/api/archive')),
    refetchInterval: (query) => (query.state.data?.some((t) => t.state === 'running') ? 500 : false),
  })
}

const anew = () => queryClient.invalidateQueries({ queryKey: ['archive'] })

export async function beginExport(): Promise<void> {
  await settled(api.POST('/api/archive'))
  await anew()
}

export async function beginImport(file: File): Promise<void> {
  const response = await fetch('/api/archive/import', { method: 'POST', headers: { 'content-type': 'application/zip' }, body: file }).catch(() => {
    throw new Failure(0, null)
  })
  if (!response.ok) throw new Failure(response.status, (await response.json().catch(() => null)) as Problem | null)
  await anew()
}

export async function callOff(id: string): Promise<void> {
  await settled(api.DELETE('/api/archive/{id}', { params: { path: { id } } }))
  await anew()
}
