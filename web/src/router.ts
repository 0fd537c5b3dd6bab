import { createRouter, createWebHistory } from 'vue-router'

import { askAhead } from './api/logbook'
import { questionOf } from './logbook/question'
import { queries } from './queries'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (to, _from, saved) => saved ?? (to.hash && document.querySelector(to.hash) ? { el: to.hash } : { top: 0 }),
  routes: [
    { path: '/', name: 'campaigns', component: () => import('./campaigns/CampaignList.vue') },
    { path: '/new', name: 'new', component: () => import('./campaigns/NewCampaign.vue') },
    {
      path: '/campaigns/:id(\\d+)',
      component: () => import('./stages/CampaignPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
      children: [
        { path: '', name: 'campaign', component: () => import('./stages/CurrentStage.vue') },
        { path: 'prepare', name: 'Prepare', component: () => import('./stages/prepare/PreparePage.vue') },
        { path: 'baseline', name: 'Baseline', component: () => import('./stages/baseline/BaselinePage.vue') },
        { path: 'compare', name: 'Compare', component: () => import('./stages/compare/ComparePage.vue') },
        { path: 'prove', name: 'Prove', component: () => import('./stages/prove/ProvePage.vue') },
        { path: 'tonight', name: 'Tonight', component: () => import('./stages/tonight/TonightPage.vue') },
        { path: 'lab', name: 'Lab', component: () => import('./stages/lab/LabPage.vue') },
        { path: 'keep', name: 'Keep', component: () => import('./stages/keep/KeepPage.vue') },
        { path: 'climb', name: 'Climb', component: () => import('./stages/climb/ClimbPage.vue') },
      ],
    },
    {
      path: '/rigs/:id(\\d+)',
      name: 'rig',
      component: () => import('./rigs/RigPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/keepers/:id(\\d+)/card',
      name: 'keeper card',
      component: () => import('./stages/keep/KeeperPrint.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/data', name: 'data', component: () => import('./data/DataPage.vue') },
    { path: '/guide', name: 'guide', component: () => import('./guide/GuidePage.vue') },
    {
      path: '/logbook',
      name: 'logbook',
      component: () => import('./logbook/LogbookPage.vue'),
      beforeEnter: (to) => askAhead(queries, questionOf(to.query)),
    },
    { path: '/practice', name: 'practices', component: () => import('./practice/PracticeList.vue') },
    {
      path: '/practice/:id(\\d+)',
      name: 'practice',
      component: () => import('./practice/PracticePage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    {
      path: '/runs/:id(\\d+)',
      name: 'run',
      component: () => import('./runs/RunPage.vue'),
      props: (route) => ({ id: Number(route.params.id) }),
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./parts/NowherePage.vue') },
  ],
})
