<script setup lang="ts">
import TopBar from '../screens/TopBar.vue'

/** A screen that lists something of the shop: its name, what can be started here, and the list. */
defineProps<{ title: string; place: string }>()
</script>

<template>
  <TopBar
    ><span class="quiet">{{ place }}</span></TopBar
  >
  <main>
    <div class="head">
      <h1>{{ title }}</h1>
      <span class="do"><slot name="do" /></span>
    </div>
    <slot />
  </main>
</template>

<style scoped>
main {
  max-width: 1100px;
  width: 100%;
  margin: 0 auto;
  padding: 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  justify-content: space-between;
  align-items: center;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
h1 {
  font-size: 30px;
  margin: 0;
}
</style>
