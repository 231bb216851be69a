<script setup lang="ts">
import { ref } from 'vue'
import { SAY } from '../../../words/say'

/** The leads and the meter, before anything is believed. */
const emit = defineEmits<{ record: [touching: string, apart: string]; skip: [] }>()
const touching = ref('')
const apart = ref('')
/** Over range, as meters show it. */
const DISPLAYS = ['OL', '1', '---']
</script>

<template>
  <form class="leads" @submit.prevent="emit('record', touching, apart)">
    <p class="do">{{ SAY.bench.leadsFirst }}</p>
    <p>
      {{ SAY.bench.switchOffItsMachineOr }}
    </p>
    <v-text-field
      v-model="touching"
      class="mono"
      :label="SAY.bench.probesTouchingItShowsOhms"
      inputmode="decimal"
      autocomplete="off"
    />
    <div class="apart">
      <v-text-field
        v-model="apart"
        class="mono"
        :label="SAY.bench.probesApartItShows"
        autocomplete="off"
      />
      <v-btn
        v-for="d in DISPLAYS"
        :key="d"
        height="52"
        :aria-pressed="apart === d"
        @click="apart = d"
        >{{ d }}</v-btn
      >
    </div>
    <p class="quiet">
      {{ SAY.bench.overRangeIsOlOn }}
    </p>
    <div class="row">
      <v-btn
        type="submit"
        class="strong"
        height="60"
        :disabled="!touching.trim() || !apart.trim()"
        >{{ SAY.common.record }}</v-btn
      >
      <v-btn height="60" @click="emit('skip')">{{ SAY.bench.beepOnlyGoOn }}</v-btn>
    </div>
  </form>
</template>

<style scoped>
.leads {
  display: grid;
  gap: 10px;
}
p {
  margin: 0;
  line-height: 1.3;
}
.do {
  font-size: 30px;
  font-weight: 700;
}
.apart {
  display: grid;
  grid-template-columns: 1fr repeat(3, auto);
  gap: 6px;
}
.apart :deep(.v-btn) {
  min-width: 44px;
  padding: 0 10px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.row :deep(.v-btn) {
  flex: 1;
}
</style>
