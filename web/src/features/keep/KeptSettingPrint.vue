<!-- A kept setting on one page, to be stuck to the machine. -->
<script setup lang="ts">
import { Button as AButton } from 'ant-design-vue'
import { RouterLink } from 'vue-router'

import { useCautions } from '../../api/journal'
import { useKeptSetting } from '../../api/keep'
import LoadState from '../../ui/LoadState.vue'
import { day, number } from '../../ui/words/format'
import KeptSettingEvidence from './KeptSettingEvidence.vue'

const props = defineProps<{ id: number }>()
const { data: keptSetting, isPending, error, refetch } = useKeptSetting(() => props.id)
const { data: cautions } = useCautions(() => keptSetting.value?.campaign_id ?? 0)
const print = (): void => window.print()
</script>

<template>
  <LoadState :pending="isPending" :error="error" what="The card" @again="refetch">
    <template v-if="keptSetting">
      <p class="aside">
        <RouterLink :to="{ name: 'Keep', params: { id: keptSetting.campaign_id } }">Back to Keep</RouterLink>
        <AButton type="primary" @click="print">Print</AButton>
      </p>
      <article class="card" data-test="print-card">
        <h1>{{ keptSetting.rig }}: {{ keptSetting.name }}</h1>
        <p>
          For {{ keptSetting.use }}. Kept {{ day(keptSetting.kept_at)
          }}{{ keptSetting.since ? `, in use since ${day(keptSetting.since)}` : '' }}.
        </p>
        <section>
          <h2>{{ keptSetting.at_stock ? 'Everything at stock' : 'What to type, in this order' }}</h2>
          <ol>
            <li v-for="line in keptSetting.lines" :key="line.knob">
              {{ line.knob }} <strong class="figure">{{ line.value }}</strong>
            </li>
          </ol>
        </section>
        <section v-if="!keptSetting.at_stock">
          <h2>How to go back</h2>
          <p>
            In the reverse order:
            {{
              [...keptSetting.lines]
                .reverse()
                .map((line) => `${line.knob} ${line.stock}`)
                .join('; ')
            }}. If it does not start, switch it off, wait, and start it at its defaults.
          </p>
        </section>
        <KeptSettingEvidence :kept-setting="keptSetting" />
        <p v-if="keptSetting.warmest_c !== null">
          Holds as wished up to a room of about {{ number(keptSetting.warmest_c, 0) }} °C.
        </p>
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
