import '@fontsource/b612/400.css'
import '@fontsource/b612/400-italic.css'
import '@fontsource/b612/700.css'
import '@fontsource/b612/700-italic.css'
import '@fontsource/b612-mono/400.css'
import 'ant-design-vue/dist/reset.css'
import './style.css'

import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { message } from 'ant-design-vue'
import { createApp } from 'vue'

import { Refusal, whyOf } from './api/client'
import { hearOtherTabs } from './api/refresh'
import App from './App.vue'
import { keepSelectsTold } from './composables/selectAria'
import { router } from './router'

// The server is most often on this machine: a network that went away, as the browser tells, is no reason to wait.
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: 'always',
      // what the server refused once it refuses again; only a lost connection is worth another try
      retry: (count, trouble) => trouble instanceof Refusal && trouble.status === 0 && count < 2,
    },
    mutations: { networkMode: 'always' },
  },
})

const app = createApp(App)
// a button whose act fails and that has no place of its own for the reason
app.config.errorHandler = (trouble) => {
  if (!(trouble instanceof Refusal)) console.error(trouble)
  void message.error({ duration: 10, content: `Not done: ${whyOf(trouble)}` })
}
app.use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
hearOtherTabs(queries)
keepSelectsTold()
