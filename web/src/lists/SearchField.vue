<script setup lang="ts">
/** The words that a list is searched for. */
defineProps<{ label: string }>()
const words = defineModel<string | null>({ required: true })
</script>

<template>
  <v-text-field
    v-model="words"
    class="search"
    type="search"
    :label="label"
    density="comfortable"
    clearable
  />
</template>

<style scoped>
.search {
  flex: 1 1 260px;
}
</style>
