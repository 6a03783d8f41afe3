import { MutationCache, QueryCache, QueryClient } from '@tanstack/vue-query'
import { askToSignIn } from '../state/session'
import { Failure } from './client'

const signedOut = (error: Error) => {
  if (error instanceof Failure && error.status === 401 && error.code === 'signed_out') askToSignIn()
}

export const queryClient = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({ onError: signedOut }),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => error instanceof Failure && (error.status === 0 || error.status === 503) && count < 20,
      retryDelay: (count) => Math.min(500 * 2 ** count, 4_000),
      networkMode: 'always',
    },
    mutations: { networkMode: 'always' },
  },
})
