import { createRouter, createWebHistory } from 'vue-router'
import JobsScreen from './screens/jobs/JobsScreen.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: JobsScreen, meta: { title: 'Jobs' } },
    {
      path: '/jobs/:id',
      component: () => import('./screens/job/JobScreen.vue'),
      props: true,
      meta: { title: 'Job' },
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Kelvok`
})
