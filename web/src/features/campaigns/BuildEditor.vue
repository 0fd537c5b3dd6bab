<script setup lang="ts">
import { Button as AButton, Input as AInput } from 'ant-design-vue'

import type { BuildIn } from '../../api/rigs'
import TextField from '../../ui/TextField.vue'

const build = defineModel<Required<BuildIn>>({ required: true })

const add = (): void => void build.value.parts.push({ role: '', name: '', specimen: '' })
const remove = (index: number): void => void build.value.parts.splice(index, 1)
</script>

<template>
  <div class="grid">
    <div class="parts">
      <span class="field-name">Parts</span>
      <div v-for="(part, index) in build.parts" :key="index" class="part">
        <AInput
          v-model:value="part.role"
          placeholder="what it is"
          :aria-label="`Part ${index + 1}: what it is`"
          :maxlength="60"
        />
        <AInput
          v-model:value="part.name"
          placeholder="maker and model"
          :aria-label="`Part ${index + 1}: maker and model`"
          :maxlength="160"
        />
        <AInput
          v-model:value="part.specimen"
          placeholder="which specimen"
          :aria-label="`Part ${index + 1}: which specimen`"
          :maxlength="120"
        />
        <AButton type="text" :aria-label="`Remove part ${index + 1}`" @click="remove(index)">Remove</AButton>
      </div>
      <AButton size="small" @click="add">Add a part</AButton>
    </div>
    <TextField v-model="build.cooling" label="Cooling" :most="200" />
    <TextField v-model="build.enclosure" label="Case or open bench" :most="200" />
    <TextField v-model="build.driver" label="Driver" :most="120" />
    <TextField v-model="build.firmware" label="Firmware" :most="120" />
    <TextField v-model="build.system" label="Operating system" :most="120" />
    <TextField v-model="build.note" label="Note" :most="4000" />
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 16px;
}
.parts {
  grid-column: 1 / -1;
}
.part {
  display: grid;
  grid-template-columns: 2fr 4fr 3fr auto;
  gap: 8px;
  margin-bottom: 8px;
}
</style>
