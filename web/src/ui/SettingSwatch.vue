<!-- The hue of a setting, the same wherever it is shown. Only a help for the eye: its name always is next to it. -->
<script setup lang="ts">
import { hueOf } from './hues'

defineProps<{ settingId: number }>()
</script>

<template>
  <span class="swatch" :style="{ background: hueOf(settingId) }" aria-hidden="true"></span>
</template>

<style scoped>
.swatch {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 5px;
  border-radius: 5px;
}
</style>
