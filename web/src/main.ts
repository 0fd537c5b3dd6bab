import '@fontsource/b612/400.css'
import '@fontsource/b612/400-italic.css'
import '@fontsource/b612/700.css'
import '@fontsource/b612/700-italic.css'
import '@fontsource/b612-mono/400.css'
import 'ant-design-vue/dist/reset.css'
import './style.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { message } from 'ant-design-vue'
import { createApp } from 'vue'

import { Refusal, whyOf } from './api/client'
import { hearOtherTabs } from './api/refresh'
import { loadRegistry } from './api/registry'
import App from './App.vue'
import { keepSelectsTold } from './composables/selectAria'
import { queries } from './queries'
import { router } from './router'

const app = createApp(App)
// a button whose act fails and that has no place of its own for the reason
app.config.errorHandler = (trouble) => {
  if (!(trouble instanceof Refusal)) console.error(trouble)
  void message.error({ duration: 10, content: `Not done: ${whyOf(trouble)}` })
}
void loadRegistry()
app.use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
hearOtherTabs(queries)
keepSelectsTold()
