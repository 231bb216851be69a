<script setup lang="ts" generic="R">
/** Lines of a list, each a link to what it tells of; the columns are whoever fills them's. */
defineProps<{ rows: R[]; to: (row: R) => string }>()
</script>

<template>
  <ul class="rows">
    <li v-for="row in rows" :key="to(row)">
      <router-link :to="to(row)"><slot :row="row" /></router-link>
    </li>
  </ul>
</template>

<style>
.rows {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
.rows > li {
  border-bottom: 1px solid var(--rule);
}
.rows > li > a {
  display: grid;
  gap: 4px 18px;
  align-items: baseline;
  padding: 12px 8px;
  color: var(--ink);
  text-decoration: none;
  font-size: 18px;
}
.rows > li > a:hover {
  background: var(--well);
}
.rows small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
.rows a:hover small {
  color: var(--ink);
}
</style>
