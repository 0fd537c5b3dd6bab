<!-- The empty logbook: three ways to begin. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { RouterLink, useRouter } from 'vue-router'

import { useMakeCampaign } from '../../api/campaigns'
import { useSimulator } from '../../api/benches'
import { useProblems } from '../../composables/useProblems'
import { speed } from '../live/speed'
import ProblemList from '../../ui/ProblemList.vue'
import { asCampaignIn, beginWithSimulator, freshDraft } from './newDraft'
import ImportArchive from './ImportArchive.vue'
import TermWord from '../../ui/TermWord.vue'

const router = useRouter()
const { data: simulators } = useSimulator()
const { mutateAsync, isPending } = useMakeCampaign()
const { problems, take, clear } = useProblems()
/** A climb of one knob over two workloads, at the simulator's highest speed: a few minutes of the reader's time. */
const FIRST_KNOB = 'core clock'
const FASTEST = 600

async function tryIt(): Promise<void> {
  const kind = simulators.value?.[0]
  if (!kind) return
  clear()
  const draft = freshDraft()
  draft.seed = 1 + Math.floor(Math.random() * 999)
  beginWithSimulator(draft, kind)
  draft.name = 'First try on the simulator'
  draft.knobs = draft.knobs.filter((knob) => knob.role === FIRST_KNOB)
  const first = (kind: string) => draft.workloads.filter((one) => one.kind === kind && one.cap_fps === null).slice(0, 1)
  draft.workloads = [...first('title'), ...first('stress test')]
  try {
    const campaign = await mutateAsync(asCampaignIn(draft))
    speed.value = FASTEST
    await router.push({ name: 'Baseline', params: { id: campaign.id } })
  } catch (trouble) {
    take(trouble)
  }
}
</script>

<template>
  <div class="first">
    <p>
      A campaign is one tuning effort: a <TermWord term="Rig">rig</TermWord>, a goal, the
      <TermWord term="Knob">knobs</TermWord> you turn and the <TermWord term="Workload">workloads</TermWord> you measure. Run a
      baseline at stock, climb, prove, compare, keep. Trelvo says at every moment what comes next, and why. The
      <RouterLink :to="{ name: 'guide' }">guide</RouterLink> goes through it once from end to end.
    </p>
    <div class="ways">
      <section class="sheet way">
        <h2>Try it on the simulator</h2>
        <p>
          A simulated machine that heats, throttles and fails like a real one, run at {{ FASTEST }} times real time: from baseline
          to a kept setting in about ten minutes, mostly with one key.
        </p>
        <AButton type="primary" :loading="isPending" :disabled="!simulators" @click="tryIt">Begin on the simulator</AButton>
      </section>
      <section class="sheet way">
        <h2>Describe my machine</h2>
        <p>
          Four steps, with the usual knobs, grids and workloads filled in for a graphics card, a processor, a laptop, a small
          machine or an old board.
        </p>
        <RouterLink :to="{ name: 'new' }"><AButton>Describe the first campaign</AButton></RouterLink>
      </section>
      <section class="sheet way">
        <h2>Open a file</h2>
        <p>A campaign that was exported here or on another machine, with all its runs and logs.</p>
        <ImportArchive />
      </section>
    </div>
    <ProblemList :problems="problems" title="Not begun:" />
  </div>
</template>

<style scoped>
.first {
  display: grid;
  gap: 16px;
}
.first > p {
  max-width: 720px;
}
.ways {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 16px;
}
.way {
  display: grid;
  grid-template-rows: auto 1fr auto;
  gap: 12px;
  justify-items: start;
  padding: 16px;
}
@media (max-width: 860px) {
  .ways {
    grid-template-columns: 1fr;
  }
}
</style>
