import { useQuery } from '@tanstack/vue-query'
import { api, settled } from './client'
import { queryClient } from './queries'

/** What the workshop wants of reminders, and whether any can be sent. */
export function useReminders() {
  return useQuery({ queryKey: ['reminders'], queryFn: () => settled(api.GET('/api/reminders')) })
}

export async function setReminders(body: { days: number; customers: boolean; workshop: string }): Promise<void> {
  await settled(api.PUT('/api/reminders', { body }))
  await queryClient.invalidateQueries({ queryKey: ['reminders'] })
}
