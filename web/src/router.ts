import { createRouter, createWebHistory } from 'vue-router'
import { HERE } from './api/here'
import BenchPlace from './places/bench/BenchPlace.vue'

export const PLACES = [
  { name: 'Bench', path: '/', key: 'b', asks: 'What is in my readers, and what do I do next?' },
  { name: 'Tally', path: '/tally', key: 't', asks: 'Where does every roll exist, and what is missing?' },
  { name: 'Clearing', path: '/clearing', key: 'c', asks: 'Which cards may go back, which may not?' },
  { name: 'Log', path: '/log', key: 'l', asks: 'Who did what, when?' },
  { name: 'Set-up', path: '/setup', key: 's', asks: 'Production, cameras, rigs and plans' },
] as const

export const router = createRouter({
  history: createWebHistory(HERE && `/${encodeURIComponent(HERE)}`),
  routes: [
    { path: '/', component: BenchPlace },
    { path: '/tally', component: () => import('./places/tally/TallyPlace.vue') },
    { path: '/tally/:tag', component: () => import('./places/tally/RollPage.vue'), props: true },
    { path: '/clearing', component: () => import('./places/clearing/ClearingPlace.vue') },
    { path: '/log', component: () => import('./places/log/LogPlace.vue') },
    { path: '/setup', component: () => import('./places/setup/SetUpPlace.vue') },
    { path: '/legend', component: () => import('./marks/MarksPage.vue') },
    { path: '/parts', component: () => import('./theme/PartsPage.vue') },
    { path: '/:nowhere(.*)*', redirect: '/' },
  ],
})

/** What the browser's tab and history say, and what a reader of the screen hears first. */
export function titleOf(path: string, production: string): string {
  const place = PLACES.find((one) => (one.path === '/' ? path === '/' : path.startsWith(one.path)))
  const rest = path.split('/')[2]
  const page = rest ? decodeURIComponent(rest) : (place?.name ?? (path === '/parts' ? 'Parts' : 'Legend'))
  return `${page} · ${production}`
}
