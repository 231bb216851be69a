<script setup lang="ts">
import { ref } from 'vue'
import type { ReleaseView } from '../../api/client'
import { SAY } from '../../words/say'
import { capital, unitName } from '../../words/units'

/** A fault that no step can show: looked for with the meter, and how. */
const props = defineProps<{ reading: ReleaseView['readings'][number]; open: boolean }>()
const emit = defineEmits<{ checked: [bad: boolean, how: string] }>()
/** What was asked for stands there; it is changed where it was checked otherwise. */
const how = ref(props.reading.test)

function check(bad: boolean) {
  emit('checked', bad, how.value)
  how.value = props.reading.test
}
</script>

<template>
  <div class="reading">
    <p>
      <b>{{ capital(unitName(props.reading.unit)) }} {{ reading.fails }}</b>
      <span class="quiet line">{{ reading.breaks.join('; ') }}</span>
    </p>
    <p>{{ reading.test }}</p>
    <p v-if="reading.bad != null">
      <b :class="{ bad: reading.bad }">{{ reading.bad ? SAY.release.bad : SAY.release.fine }}</b>
    </p>
    <template v-if="open">
      <v-text-field v-model="how" :label="SAY.release.how" maxlength="400" hide-details />
      <div class="row">
        <v-btn height="48" :disabled="!how.trim()" @click="check(false)">{{
          SAY.release.fine
        }}</v-btn>
        <v-btn height="48" :disabled="!how.trim()" @click="check(true)">{{
          SAY.release.bad
        }}</v-btn>
      </div>
    </template>
  </div>
</template>

<style scoped>
.reading {
  display: grid;
  gap: 8px;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
p {
  margin: 0;
}
.row {
  display: flex;
  gap: 10px;
}
.bad {
  color: var(--plum);
}
.line {
  display: block;
}
</style>
