<script setup lang="ts" generic="T extends string | number | boolean | undefined">
/** One of a few, a large button each. */
defineProps<{ legend: string; choices: readonly (readonly [name: string, value: T])[] }>()
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <fieldset>
    <legend>{{ legend }}</legend>
    <div class="choices">
      <v-btn
        v-for="[name, value] in choices"
        :key="name"
        height="48"
        :class="{ strong: chosen === value }"
        :aria-pressed="chosen === value"
        @click="chosen = value"
        >{{ name }}</v-btn
      >
    </div>
  </fieldset>
</template>

<style scoped>
fieldset {
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  margin-bottom: 6px;
  font-size: 16px;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
