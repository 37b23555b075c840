import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/stores'
const ofStore = (store: string) => ({ params: { path: { production: HERE, name: store } } })

/** Use a drive for copies. */
export const useUseDrive = () =>
  useAct(
    (body: Shapes['StoreIn']) => answered(client.POST(P, { params: { path: { production: HERE } }, body })),
    'stores',
    'volumes',
    'setup',
  )

/** Something plugged in is a card in a reader, or is none after all. */
export const useSayReader = () =>
  useAct(
    (body: Shapes['ReaderIn']) =>
      answered(client.PUT(`${P}/volumes/reader`, { params: { path: { production: HERE } }, body })),
    'volumes',
    'bench',
  )

export const usePlaceStore = () =>
  useAct(
    ({ store, ...body }: Shapes['PlaceIn'] & { store: string }) =>
      answered(client.PUT(`${P}/{name}/place`, { ...ofStore(store), body })),
    'stores',
  )

/** Have a drive keep each roll as one sealed file too. */
export const useKeepPackages = () =>
  useAct((store: string) => answered(client.POST(`${P}/{name}/packages`, ofStore(store))), 'stores', 'setup')

/** Show a roll's sealed package as a card on the Bench. */
export const useOpenPackage = () =>
  useAct(
    ({ store, tag }: { store: string; tag: string }) =>
      answered(
        client.POST(`${P}/{name}/packages/{tag}/open`, {
          params: { path: { production: HERE, name: store, tag } },
        }),
      ),
    'bench',
    'setup',
  )

/** Have the ledger backed up to a store too, or no more. */
export const useChooseBackups = () =>
  useAct(
    ({ store, on }: { store: string; on: boolean }) =>
      answered(client.PUT(`${P}/{name}/backups`, { ...ofStore(store), body: { on } })),
    'stores',
  )

/** Have another production use a store too. */
export const useShareStore = () =>
  useAct(
    ({ store, production }: { store: string; production: string }) =>
      answered(client.POST(`${P}/{name}/shared`, { ...ofStore(store), body: { production } })),
    'stores',
  )

/** Say what a store stands on, where the machine cannot tell. */
export const useStateDevice = () =>
  useAct(
    ({ store, ...body }: Shapes['StandsOnIn'] & { store: string }) =>
      answered(client.POST(`${P}/{name}/device`, { ...ofStore(store), body })),
    'stores',
  )

/** Say who has the device that a store is on, and where it is with them. */
export const usePassStore = () =>
  useAct(
    ({ store, ...body }: Required<Shapes['CarrierIn']> & { store: string }) =>
      answered(client.PUT(`${P}/{name}/carrier`, { ...ofStore(store), body })),
    'stores',
    'whatif',
    'where',
  )

/** What a server presents itself with now; nothing is sent to it, and nothing changes. */
export const useAskHostKey = () =>
  useAct(({ host, port }: { host: string; port: number }) =>
    answered(
      client.POST(`${P}/servers/host-key`, { params: { path: { production: HERE } }, body: { host, port } }),
    ),
  )

/** Let copies go to a folder of a server. */
export const useIntroduceServer = () =>
  useAct(
    (body: Shapes['ServerIn']) =>
      answered(client.POST(`${P}/servers`, { params: { path: { production: HERE } }, body })),
    'stores',
    'setup',
  )

/** Let copies go to a bucket of an object storage. */
export const useIntroduceBucket = () =>
  useAct(
    (body: Shapes['BucketIn']) =>
      answered(client.POST(`${P}/buckets`, { params: { path: { production: HERE } }, body })),
    'stores',
    'setup',
  )

/** Give another key or password for a store's server, or accept the host key that it has now. */
export const useChangeCredentials = () =>
  useAct(
    ({ store, ...body }: Shapes['CredentialsIn'] & { store: string }) =>
      answered(client.PUT(`${P}/{name}/credentials`, { ...ofStore(store), body })),
    'stores',
  )

/** Have a store looked through for rolls; nothing is read. */
export const useSearchStore = () =>
  useAct((store: string) => answered(client.POST(`${P}/{name}/search`, ofStore(store))), 'search')

/** Take a folder for a copy of a roll, or follow a copy that was moved; it is read now. */
export const useAdopt = () =>
  useAct(
    ({ store, ...body }: Shapes['AdoptIn'] & { store: string }) =>
      answered(client.POST(`${P}/{name}/adopt`, { ...ofStore(store), body })),
    'search',
    'tally',
  )

/** Show a folder that belongs to no roll as a card on the Bench. */
export const useTakeIn = () =>
  useAct(
    ({ store, ...body }: Shapes['TakeInIn'] & { store: string }) =>
      answered(client.POST(`${P}/{name}/take-in`, { ...ofStore(store), body })),
    'bench',
    'readers',
  )

/** Let copies go to a folder of a WebDAV server. */
export const useIntroduceWebdav = () =>
  useAct(
    (body: Shapes['WebdavIn']) =>
      answered(client.POST(`${P}/webdav`, { params: { path: { production: HERE } }, body })),
    'stores',
    'setup',
  )

/** Call a store something else, make it a landing area or none, keep copies there read-only or not. */
export const useChangeStore = () =>
  useAct(
    ({ store, ...body }: Shapes['StoreChangeIn'] & { store: string }) =>
      answered(client.PUT(`${P}/{name}`, { ...ofStore(store), body })),
    'stores',
  )

/** Take a store out of service: nothing goes there any more, and nothing there counts. */
export const useRetireStore = () =>
  useAct(
    ({ store, reason }: { store: string; reason: string }) =>
      answered(client.POST(`${P}/{name}/retired`, { ...ofStore(store), body: { reason } })),
    'stores',
  )

export const useStoreAgain = () =>
  useAct((store: string) => answered(client.DELETE(`${P}/{name}/retired`, ofStore(store))), 'stores')

/** Ends one that is under way, without having found anything. */
export const useStopComparing = () =>
  useAct(
    (body: Shapes['SidesIn']) =>
      answered(client.POST(`${P}/comparisons/stop`, { params: { path: { production: HERE } }, body })),
    'comparison',
  )

/** Have two stores compared, one way. */
export const useCompareStores = () =>
  useAct(
    (body: Shapes['ComparisonIn']) =>
      answered(client.POST(`${P}/comparisons`, { params: { path: { production: HERE } }, body })),
    'comparison',
  )
