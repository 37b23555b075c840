import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

const here = { params: { path: { production: HERE } } }

/** What the person of this page keeps to narrow the Tally to. */
export const useViews = () =>
  useQuery({
    queryKey: ['views', 'tally'],
    queryFn: () => answered(client.GET('/api/productions/{production}/tally/views', here)),
  })

/** What they often ask Find. */
export const useQuestions = () =>
  useQuery({
    queryKey: ['views', 'find'],
    queryFn: () => answered(client.GET('/api/productions/{production}/find/views', here)),
  })

/** What is otherwise than when they last looked. */
export const useSince = () =>
  useQuery({
    queryKey: ['since'],
    queryFn: () => answered(client.GET('/api/productions/{production}/tally/since', here)),
  })
