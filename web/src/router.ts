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
    {
      path: '/jobs/:id/sweep',
      component: () => import('./screens/sweep/SweepScreen.vue'),
      props: true,
      meta: { title: 'Sweep' },
    },
    {
      path: '/jobs/:id/battery',
      component: () => import('./screens/battery/BatteryScreen.vue'),
      props: true,
      meta: { title: 'Battery' },
    },
    {
      path: '/jobs/:id/drops/:circuit?',
      component: () => import('./screens/drops/DropsScreen.vue'),
      props: true,
      meta: { title: 'Where the volts go' },
    },
    {
      path: '/jobs/:id/fuses',
      component: () => import('./screens/fuses/FusesScreen.vue'),
      props: true,
      meta: { title: 'Fuses' },
    },
    {
      path: '/jobs/:id/charging',
      component: () => import('./screens/charging/ChargingScreen.vue'),
      props: true,
      meta: { title: 'Does it charge?' },
    },
    {
      path: '/jobs/:id/loads/:load?',
      component: () => import('./screens/loads/LoadsScreen.vue'),
      props: true,
      meta: { title: 'Ohms and amps' },
    },
    {
      path: '/jobs/:id/soak',
      component: () => import('./screens/soak/SoakScreen.vue'),
      props: true,
      meta: { title: 'Run it and wait' },
    },
    {
      path: '/jobs/:id/release',
      component: () => import('./screens/release/ReleaseScreen.vue'),
      props: true,
      meta: { title: 'Before it goes back' },
    },
    {
      path: '/jobs/:id/sheet/:kind(customer|file)',
      component: () => import('./screens/sheet/SheetScreen.vue'),
      props: true,
      meta: { title: 'Sheet' },
    },
    {
      path: '/machines',
      component: () => import('./screens/machines/MachinesScreen.vue'),
      meta: { title: 'Machines' },
    },
    {
      path: '/describe',
      component: () => import('./screens/describe/DescribeScreen.vue'),
      meta: { title: 'Describe a machine' },
    },
    {
      path: '/machines/:name/trace',
      component: () => import('./screens/trace/TraceScreen.vue'),
      props: true,
      meta: { title: 'Trace the wires' },
    },
    {
      path: '/machines/:name/edit',
      component: () => import('./screens/edit/EditScreen.vue'),
      props: true,
      meta: { title: 'Edit the drawing' },
    },
    {
      path: '/machines/:name/:view?',
      component: () => import('./screens/machine/MachineScreen.vue'),
      props: true,
      meta: { title: 'Machine' },
    },
    {
      path: '/bench',
      component: () => import('./screens/bench/BenchScreen.vue'),
      meta: { title: 'Switch bench' },
    },
    {
      path: '/bench/:id/:tab?',
      component: () => import('./screens/bench/SwitchScreen.vue'),
      props: true,
      meta: { title: 'Switch' },
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Kelvok`
})
