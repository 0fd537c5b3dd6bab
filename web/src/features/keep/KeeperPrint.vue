<!-- A kept setting on one page, to be stuck to the machine. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { RouterLink } from 'vue-router'

import { useCautions } from '../../api/journal'
import { useKeeper } from '../../api/keep'
import LoadState from '../../ui/LoadState.vue'
import { day, number } from '../../ui/words/format'
import KeeperEvidence from './KeeperEvidence.vue'

const props = defineProps<{ id: number }>()
const { data: keeper, isPending, error, refetch } = useKeeper(() => props.id)
const { data: cautions } = useCautions(() => keeper.value?.campaign_id ?? 0)
const print = (): void => window.print()
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The card" @again="refetch">
    <template v-if="keeper">
      <p class="aside">
        <RouterLink :to="{ name: 'Keep', params: { id: keeper.campaign_id } }">Back to Keep</RouterLink>
        <AButton type="primary" @click="print">Print</AButton>
      </p>
      <article class="card" data-test="print-card">
        <h1>{{ keeper.rig }}: {{ keeper.name }}</h1>
        <p>
          For {{ keeper.use }}. Kept {{ day(keeper.kept_at) }}{{ keeper.since ? `, in use since ${day(keeper.since)}` : '' }}.
        </p>
        <section>
          <h2>{{ keeper.at_stock ? 'Everything at stock' : 'What to type, in this order' }}</h2>
          <ol>
            <li v-for="line in keeper.lines" :key="line.knob">
              {{ line.knob }} <strong class="figure">{{ line.value }}</strong>
            </li>
          </ol>
        </section>
        <section v-if="!keeper.at_stock">
          <h2>How to go back</h2>
          <p>
            In the reverse order:
            {{
              [...keeper.lines]
                .reverse()
                .map((line) => `${line.knob} ${line.stock}`)
                .join('; ')
            }}. If it does not start, switch it off, wait, and start it at its defaults.
          </p>
        </section>
        <KeeperEvidence :keeper="keeper" />
        <p v-if="keeper.warmest_c !== null">Holds as wished up to a room of about {{ number(keeper.warmest_c, 0) }} °C.</p>
        <section v-if="cautions">
          <h2>Cautions</h2>
          <ul>
            <li v-for="one in cautions.cautions" :key="one.caution.key">
              <strong>{{ one.caution.title }}.</strong> {{ one.caution.why }}
            </li>
          </ul>
          <p>{{ cautions.first }}</p>
        </section>
        <p class="quiet">Check it again after a new driver, firmware, part or workload, and when the room gets warmer.</p>
      </article>
    </template>
  </LoadState>
</template>

<style scoped>
.aside {
  display: flex;
  gap: 16px;
  align-items: center;
  justify-content: space-between;
  margin: 16px 0;
}
.card {
  display: grid;
  gap: 12px;
  max-width: 720px;
  padding: 24px;
  border: 1px solid var(--rule);
  background: var(--sheet);
}
ol,
ul {
  margin: 4px 0 0;
  padding-left: 24px;
}
ol {
  font-size: 16px;
  line-height: 28px;
}
@media print {
  .aside {
    display: none;
  }
  .card {
    border: 0;
    color: #000;
    font-size: 12px;
    line-height: 16px;
  }
}
</style>
