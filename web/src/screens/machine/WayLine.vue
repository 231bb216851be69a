<script setup lang="ts">
import { computed } from 'vue'
import type { Condition, Control, Standing, WaysView } from '../../api/client'
import { gateWords } from '../../words/reasons'
import { moves } from '../../words/tests'
import { list } from '../../words/units'
import { SAY } from '../../words/say'

const props = defineProps<{
  ways: WaysView
  controls: Control[]
  standing: Standing
  /** A complete kill circuit stops the engine: nobody needs it completed. */
  kills: boolean
}>()
const emit = defineEmits<{ set: [condition: Condition] }>()

const gates = computed(() => list(props.ways.contacts.map(gateWords), 'and'))
const wanted = computed(() =>
  props.ways.nearest ? moves(props.controls, props.standing.set, props.ways.nearest) : [],
)
</script>

<template>
  <p class="way">
    <template v-if="ways.way === 'complete'">
      <b>{{ SAY.machine.complete }}</b>
      <span v-if="gates">{{ ` To open it, all of these must open: ${gates}.` }}</span>
      <span v-else>{{ ' A straight wire: no switch can open it.' }}</span>
    </template>
    <template v-else-if="ways.way === 'blocked'">
      <b>{{ SAY.machine.open }}</b>{{ ` at ${gates}.` }}
      <template v-if="wanted.length">
        {{ `Fewest moves to complete it: ${list(wanted, 'and')}.` }}
        <v-btn
          v-if="!kills"
          class="no-print"
          size="small"
          variant="text"
          @click="ways.nearest && emit('set', ways.nearest)"
          >{{ SAY.machine.setItLikeThis }}</v-btn
        >
      </template>
      <template v-else-if="!ways.nearest">{{ SAY.machine.noPositionOfTheControls }}</template>
    </template>
    <template v-else>{{ SAY.machine.noSwitchOrWireIn }}</template>
  </p>
</template>

<style scoped>
.way {
  margin: 0;
  font-size: 17px;
}
</style>
