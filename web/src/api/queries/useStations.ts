import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../client'

/** The machines with readers and drives. One that dies says nothing: whether it is there is asked again and again. */
export function useStations() {
  const asked = useQuery({
    queryKey: ['stations'],
    queryFn: () => answered(client.GET('/api/stations')),
    refetchInterval: 10_000,
  })
  /** Those that nobody runs and nobody turned away; each has been away since it last looked. */
  const away = computed(() => (asked.data.value ?? []).filter((one) => !one.running && !one.turned_away))
  return { ...asked, away }
}
