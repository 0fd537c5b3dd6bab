<!-- The guide: docs/guide.md, as it stands there, with its sections to jump to. -->
<script setup lang="ts">
import { RouterLink } from 'vue-router'

import html, { headings } from 'virtual:guide'
</script>

<template>
  <div class="guide-page">
    <nav aria-label="Sections of the guide">
      <ol>
        <li v-for="one in headings" :key="one.anchor">
          <RouterLink :to="{ hash: `#${one.anchor}` }">{{ one.title }}</RouterLink>
        </li>
      </ol>
    </nav>
    <!-- eslint-disable-next-line vue/no-v-html : made from our own file when the screens are built -->
    <article class="guide" v-html="html"></article>
  </div>
</template>

<style scoped>
.guide-page {
  display: grid;
  grid-template-columns: 240px minmax(0, 760px);
  gap: 40px;
  margin-top: 16px;
}
nav ol {
  position: sticky;
  top: 16px;
  display: grid;
  gap: 8px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
.guide :deep(h2) {
  margin-top: 32px;
  scroll-margin-top: 16px;
}
.guide :deep(li) {
  margin-bottom: 6px;
}
.guide :deep(img) {
  max-width: 100%;
  border: 1px solid var(--rule);
}
.guide :deep(code) {
  padding: 1px 6px;
  border-bottom: 2px solid var(--rule);
  background: var(--sheet);
  font-family: inherit;
}
.guide :deep(td:first-child) {
  white-space: nowrap;
}
.guide :deep(p) {
  margin: 4px 0 8px;
}
.guide :deep(table) {
  border-collapse: collapse;
}
.guide :deep(th),
.guide :deep(td) {
  padding: 4px 16px 4px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: top;
}
@media (max-width: 1000px) {
  .guide-page {
    grid-template-columns: minmax(0, 1fr);
  }
  nav ol {
    position: static;
  }
}
</style>
