<script setup lang="ts">
import { onMounted } from 'vue'
import { usePerson } from './usePerson'
import { SAY } from '../words/say'

/** Asked once on a device: who signs what is recorded here. */
const { people, unknown, load, choose } = usePerson()
onMounted(load)
</script>

<template>
  <v-dialog :model-value="unknown" persistent max-width="460" aria-labelledby="who">
    <section class="who">
      <h2 id="who">{{ SAY.shell.whoIsWorkingAtThis }}</h2>
      <p>{{ SAY.shell.yourNameGoesOnEvery }}</p>
      <v-btn v-for="name in people" :key="name" block height="64" @click="choose(name)">{{
        name
      }}</v-btn>
    </section>
  </v-dialog>
</template>

<style scoped>
.who {
  display: grid;
  gap: 12px;
  max-height: 90vh;
  overflow-y: auto;
  padding: 20px;
  border-radius: 14px;
  background: var(--paper);
  color: var(--ink);
}
h2 {
  margin: 0;
  font-size: 24px;
}
p {
  margin: 0;
  font-size: 17px;
}
</style>
