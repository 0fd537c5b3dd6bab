<!-- What a log says, beside what had been typed; the user chooses which stands. -->
<script setup lang="ts">
import { Checkbox as ACheckbox } from 'ant-design-vue'

import type { LogCheck } from '../../api/logs'
import { number } from '../../ui/words/format'

defineProps<{ check: LogCheck }>()
const takeOver = defineModel<string[]>('takeOver', { required: true })

const toggle = (mark: string): void => {
  takeOver.value = takeOver.value.includes(mark) ? takeOver.value.filter((one) => one !== mark) : [...takeOver.value, mark]
}
</script>

<template>
  <table class="ledger figures">
    <thead>
      <tr>
        <th>Figure</th>
        <th class="number">Log says</th>
        <th class="number">Typed</th>
        <th>Value to use</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in check.figures" :key="line.mark">
        <td>{{ line.name }}</td>
        <td class="number figure">{{ number(line.value, line.decimals) }} {{ line.unit }}</td>
        <td class="number figure">{{ line.typed == null ? '–' : `${number(line.typed, line.decimals)} ${line.unit}` }}</td>
        <td>
          <ACheckbox v-if="line.typed != null" :checked="takeOver.includes(line.mark)" @change="toggle(line.mark)">
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
