import '@fontsource/atkinson-hyperlegible/latin-400.css'
import '@fontsource/atkinson-hyperlegible/latin-700.css'
import '@fontsource/atkinson-hyperlegible/latin-ext-400.css'
import '@fontsource/atkinson-hyperlegible-mono/latin-400.css'
import '@fontsource/sofia-sans-condensed/latin-700.css'
import './theme/tokens.css'
import './theme/base.css'
import './theme/parts.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'
import { Refusal } from './api/refusal'
import App from './App.vue'
import { router } from './router'
import { i18n } from './words/say'
import { noticingCaches } from './shell/session'
import { preset } from './theme/preset'

const cache = new QueryClient({
  ...noticingCaches(),
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      refetchOnWindowFocus: true,
      retry: (failures, error) => !(error instanceof Refusal && error.status !== 0) && failures < 2,
    },
  },
})

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? ''

createApp(App)
  .use(PrimeVue, { unstyled: true, pt: preset, csp: { nonce } })
  .use(VueQueryPlugin, { queryClient: cache })
  .use(router)
  .use(i18n)
  .mount('#app')
