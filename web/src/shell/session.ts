import { MutationCache, QueryCache } from '@tanstack/vue-query'
import { readonly, ref } from 'vue'
import { Refusal } from '../api/refusal'

const ended = ref(false)
/** The server does not know us any more: somebody signed out elsewhere, or the session is over. */
export const sessionEnded = readonly(ended)
export const sessionBegan = () => (ended.value = false)

const onError = (error: Error) => {
  if (error instanceof Refusal && error.status === 401) ended.value = true
}
export const noticingCaches = () => ({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
})

/** Somebody wants to sign in at a screen that is shared. */
export const signingIn = ref(false)
