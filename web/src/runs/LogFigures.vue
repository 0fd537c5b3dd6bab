<!-- What a log says, beside what had been typed; the user chooses which stands. -->
<script setup lang="ts">
import { Checkbox as ACheckbox } from 'ant-design-vue'
import { computed } from 'vue'

import type { LogCheck } from '../api/logs'
import { number } from '../words/format'
import { figureWords } from './figures'

const props = defineProps<{ check: LogCheck; unit: string }>()
const takeOver = defineModel<string[]>('takeOver', { required: true })

const lines = computed(() =>
  figureWords
    .filter(({ field }) => field in props.check.figures)
    .map(({ field, name, unit, decimals }) => ({
      field,
      name,
      logged: `${number(props.check.figures[field], decimals)} ${unit || props.unit}`,
      typed: field in props.check.typed ? `${number(props.check.typed[field], decimals)} ${unit || props.unit}` : undefined,
    })),
)
const toggle = (field: string): void => {
  takeOver.value = takeOver.value.includes(field) ? takeOver.value.filter((one) => one !== field) : [...takeOver.value, field]
}
</script>

<template>
  <table class="ledger figures">
    <thead>
      <tr>
        <th>Figure</th>
        <th class="number">Log says</th>
        <th class="number">Typed</th>
        <th>Which stands</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in lines" :key="line.field">
        <td>{{ line.name }}</td>
        <td class="number figure">{{ line.logged }}</td>
        <td class="number figure">{{ line.typed ?? '–' }}</td>
        <td>
          <ACheckbox v-if="line.typed != null" :checked="takeOver.includes(line.field)" @change="toggle(line.field)">
            use the log’s
          </ACheckbox>
          <span v-else class="quiet">the log’s</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.figures {
  margin-top: 12px;
}
</style>
