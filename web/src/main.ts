import '@fontsource/b612/400.css'
import '@fontsource/b612/400-italic.css'
import '@fontsource/b612/700.css'
import '@fontsource/b612/700-italic.css'
import '@fontsource/b612-mono/400.css'
import 'ant-design-vue/dist/reset.css'
import './style.css'

import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'

import { Refusal } from './api/client'
import App from './App.vue'
import { router } from './router'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // what the server refused once it refuses again; only a lost connection is worth another try
      retry: (count, trouble) => !(trouble instanceof Refusal) && count < 2,
    },
  },
})

createApp(App).use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
