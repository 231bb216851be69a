import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import { vuetify } from './theme/vuetify'
import './theme/fonts'
import './theme/kelvok.css'

createApp(App).use(router).use(vuetify).mount('#app')
