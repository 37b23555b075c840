import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

/** Say something of many files at once; what is not said stays as it is. */
export const useSayOfFiles = () =>
  useAct(
    (said: Partial<Shapes['SayIn']> & Pick<Shapes['SayIn'], 'files'>) =>
      answered(
        client.POST('/api/productions/{production}/keywords', {
          params: { path: { production: HERE } },
          body: { add: [], remove: [], ...said },
        }),
      ),
    'find',
    'keywords',
  )
