<!-- What went wrong: what, where, and what to do. -->
<script setup lang="ts">
import type { Problem } from '../api/client'

defineProps<{ problems: Problem[]; title?: string }>()
</script>

<template>
  <div v-if="problems.length" class="problems" role="alert">
    <strong v-if="title">{{ title }}</strong>
    <ul>
      <li v-for="problem in problems" :key="problem.where + problem.what">
        <span v-if="/row|column/.test(problem.where)" class="place">{{ problem.where }}: </span>{{ problem.what }}
        <span class="todo">{{ problem.todo }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.problems {
  padding: 8px 16px;
  border-left: 3px solid var(--orange);
  background: var(--sheet);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li + li {
  margin-top: 6px;
}
.place {
  font-weight: 700;
}
.todo {
  color: var(--quiet);
}
</style>
