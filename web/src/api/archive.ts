import { useQuery } from '@tanstack/vue-query'
import { api, sent, settled } from './client'
import { queryClient } from './queries'
import type { TaskView } from './types'

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
  await sent('/api/archive/import', { 'content-type': 'application/zip' }, file)
  await anew()
}

export async function callOff(id: string): Promise<void> {
  await settled(api.DELETE('/api/archive/{id}', { params: { path: { id } } }))
  await anew()
}
