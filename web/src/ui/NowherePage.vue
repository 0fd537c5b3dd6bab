<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <h1>There is no page at this address</h1>
  <p>It may have been mistyped.</p>
  <p><RouterLink :to="{ name: 'campaigns' }">Go to the campaigns</RouterLink></p>
</template>
