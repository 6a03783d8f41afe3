import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import './style/tokens.css'
import './style/base.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import PrimeVue from 'primevue/config'
import ToastService from 'primevue/toastservice'
import { createApp } from 'vue'
import App from './App.vue'
import { queryClient } from './api/queries'
import { router } from './router'
import { applyPreferences } from './state/preferences'
import { parts } from './theme'
import { words } from './words'

await applyPreferences()
createApp(App)
  .use(words)
  .use(router)
  .use(VueQueryPlugin, { queryClient })
  .use(PrimeVue, { unstyled: true, pt: parts() })
  .use(ToastService)
  .mount('#app')

void import('./offline/start').then(({ start }) => start())
