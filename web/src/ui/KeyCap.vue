<!-- The key that does what its control says. -->
<template>
  <kbd class="cap"><slot /></kbd>
</template>

<style scoped>
.cap {
  display: inline-block;
  min-width: 18px;
  margin-left: 6px;
  padding: 0 4px;
  border-bottom: 2px solid currentColor;
  font:
    400 12px/16px 'B612 Mono',
    monospace;
  text-align: center;
  opacity: 0.75;
}
</style>
