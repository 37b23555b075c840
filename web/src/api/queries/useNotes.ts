import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { seesWork } from '../seen'

/** Every note that is shown here, newest first; asked once for all things that show theirs. */
export const useNotes = () =>
  useQuery({
    queryKey: ['notes'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/notes', { params: { path: { production: HERE } } })),
    enabled: seesWork,
  })

/** Those about one thing. */
export function useNotesOn(on: Shapes['NoteOn'], name: MaybeRefOrGetter<string>) {
  const notes = useNotes()
  return computed(() => (notes.data.value ?? []).filter((one) => one.on === on && one.name === toValue(name)))
}
