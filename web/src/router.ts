import { createRouter, createWebHistory } from 'vue-router'

import { askAhead } from './api/logbook'
import { questionOf } from './features/logbook/question'
import { queries } from './queries'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to, _from, saved) => saved ?? (to.hash && document.querySelector(to.hash) ? { el: to.hash } : { top: 0 }),
  routes: [
    { path: '/', name: 'campaigns', component: () => import('./features/campaigns/CampaignList.vue') },
    { path: '/new', name: 'new', component: () => import('./features/campaigns/NewCampaign.vue') },
    {
      path: '/campaigns/:id(\\d+)',
      component: () => import('./features/campaign/CampaignPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      children: [
        { path: '', name: 'campaign', component: () => import('./features/campaign/CurrentStage.vue') },
        { path: 'prepare', name: 'Prepare', component: () => import('./features/prepare/PreparePage.vue') },
        { path: 'baseline', name: 'Baseline', component: () => import('./features/baseline/BaselinePage.vue') },
        { path: 'compare', name: 'Compare', component: () => import('./features/compare/ComparePage.vue') },
        { path: 'prove', name: 'Prove', component: () => import('./features/prove/ProvePage.vue') },
        { path: 'tonight', name: 'Tonight', component: () => import('./features/tonight/TonightPage.vue') },
        { path: 'lab', name: 'Lab', component: () => import('./features/lab/LabPage.vue') },
        { path: 'keep', name: 'Keep', component: () => import('./features/keep/KeepPage.vue') },
        { path: 'climb', name: 'Climb', component: () => import('./features/climb/ClimbPage.vue') },
      ],
    },
    {
      path: '/rigs/:id(\\d+)',
      name: 'rig',
      component: () => import('./features/rigs/RigPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/kept-settings/:id(\\d+)/card',
      name: 'kept setting card',
      component: () => import('./features/keep/KeptSettingPrint.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/data', name: 'data', component: () => import('./features/data/DataPage.vue') },
    { path: '/guide', name: 'guide', component: () => import('./features/guide/GuidePage.vue') },
    {
      path: '/logbook',
      name: 'logbook',
      component: () => import('./features/logbook/LogbookPage.vue'),
      beforeEnter: (to) => askAhead(queries, questionOf(to.query)),
    },
    { path: '/practice', name: 'practices', component: () => import('./features/practice/PracticeList.vue') },
    {
      path: '/practice/:id(\\d+)',
      name: 'practice',
      component: () => import('./features/practice/PracticePage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/runs/:id(\\d+)',
      name: 'run',
      component: () => import('./features/runs/RunPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./ui/NowherePage.vue') },
  ],
})
