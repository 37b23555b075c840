import { createRouter, createWebHistory } from 'vue-router'
import { HERE } from './api/here'
import { t, type Sentence } from './words/say'
import BenchPlace from './places/bench/BenchPlace.vue'

export const PLACES = [
  { name: t('places.bench'), path: '/', key: 'b', asks: t('places.benchAsks') },
  { name: t('places.tally'), path: '/tally', key: 't', asks: t('places.tallyAsks') },
  { name: t('places.clearing'), path: '/clearing', key: 'c', asks: t('places.clearingAsks') },
  { name: t('places.stores'), path: '/stores', key: 'd', asks: t('places.storesAsks') },
  { name: t('places.cards'), path: '/cards', key: 'k', asks: t('places.cardsAsks') },
  { name: t('places.find'), path: '/find', key: 'f', asks: t('places.findAsks') },
  { name: t('places.log'), path: '/log', key: 'l', asks: t('places.logAsks') },
  { name: t('places.setUp'), path: '/setup', key: 's', asks: t('places.setUpAsks') },
] as const

/** What tells how things stand, and how that is said: for clients too. */
const STATE: readonly string[] = ['/tally', '/clearing', '/clearances', '/legend', '/parts']

/** The places that somebody sees who may do this. */
export const placesOf = (may: readonly string[]) => PLACES.filter((place) => opens(place.path, may))

/** Whether a page is for somebody who may do this. */
export const opens = (path: string, may: readonly string[]) =>
  may.includes('see_work') || STATE.some((one) => path === one || path.startsWith(`${one}/`))

export const router = createRouter({
  history: createWebHistory(HERE && `/${encodeURIComponent(HERE)}`),
  routes: [
    { path: '/', component: BenchPlace },
    { path: '/tally', component: () => import('./places/tally/TallyPlace.vue') },
    { path: '/tally/:tag', component: () => import('./places/tally/RollPage.vue'), props: true },
    { path: '/clearing', component: () => import('./places/clearing/ClearingPlace.vue') },
    { path: '/stores', component: () => import('./places/stores/StoresPlace.vue') },
    { path: '/cards', component: () => import('./places/cards/CardsPlace.vue') },
    { path: '/cards/:label', component: () => import('./places/cards/CardPage.vue'), props: true },
    {
      path: '/clearances/:id',
      component: () => import('./places/clearances/ClearancePage.vue'),
      props: true,
    },
    { path: '/find', component: () => import('./places/find/FindPlace.vue') },
    { path: '/log', component: () => import('./places/log/LogPlace.vue') },
    { path: '/days/:day?', component: () => import('./places/days/DayPlace.vue'), props: true },
    { path: '/trends', component: () => import('./places/trends/TrendsPlace.vue') },
    { path: '/returns', component: () => import('./places/returns/ReturnsPlace.vue') },
    { path: '/room', component: () => import('./places/room/RoomPlace.vue') },
    { path: '/sets', component: () => import('./places/sets/SetsPlace.vue') },
    { path: '/deliveries', component: () => import('./places/deliveries/DeliveriesPlace.vue') },
    { path: '/reports', component: () => import('./places/reports/ReportsPlace.vue') },
    { path: '/news', component: () => import('./places/news/NewsPlace.vue') },
    { path: '/wall', component: () => import('./places/wall/WallPlace.vue') },
    { path: '/handover', component: () => import('./places/handover/HandoverPlace.vue') },
    { path: '/setup', component: () => import('./places/setup/SetUpPlace.vue') },
    { path: '/legend', component: () => import('./marks/MarksPage.vue') },
    { path: '/parts', component: () => import('./theme/PartsPage.vue') },
    { path: '/:nowhere(.*)*', redirect: '/' },
  ],
})

const ANEW = 'raft-loaded-anew'
const NOT_AGAIN_MS = 10_000

/** After an upgrade the parts of an open page are gone from the server: it is loaded anew, where it wanted to go. */
router.onError(async (_error, to) => {
  const last = Number(sessionStorage.getItem(ANEW))
  const there = await fetch('/api/session').catch(() => undefined)
  if (!there?.ok || Date.now() - last < NOT_AGAIN_MS) return
  sessionStorage.setItem(ANEW, String(Date.now()))
  location.assign(router.resolve(to.fullPath).href)
})

const PAGES: Record<string, Sentence> = {
  '/parts': 'places.parts',
  '/handover': 'handover.title',
  '/days': 'days.title',
  '/wall': 'wall.link',
  '/trends': 'trends.title',
  '/news': 'news.title',
  '/reports': 'reports.title',
  '/returns': 'returns.title',
  '/deliveries': 'deliveries.title',
  '/sets': 'sets.title',
}

/** What the browser's tab and history say, and what a reader of the screen hears first. */
export function titleOf(path: string, production: string): string {
  const place = PLACES.find((one) => (one.path === '/' ? path === '/' : path.startsWith(one.path)))
  const rest = path.split('/')[2]
  const page = rest ? decodeURIComponent(rest) : (place?.name ?? t(PAGES[path] ?? 'places.legend'))
  return `${page} · ${production}`
}
