<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { ApiError, api, type LogicView, type MachineDetail, type Standing } from '../../api/client'
import DutyList from './DutyList.vue'
import InterlockTable from './InterlockTable.vue'
import { SAY } from '../../words/say'

const props = defineProps<{ detail: MachineDetail; standing: Standing }>()
const emit = defineEmits<{ go: [at: Standing] }>()
const logic = ref<LogicView>()
const trouble = ref('')

onMounted(async () => {
  try {
    logic.value = await api.logic(props.detail.name)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
})

/** What a sentence is about, for the mark beside it. */
const MARK = { cranks: 'crank', starts: 'start', stops: 'stop', blades: 'cut' }
</script>

<template>
  <div class="decides">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!logic" class="quiet" role="status">
      {{ SAY.machine.workingOutEveryCombination }}
    </p>
    <template v-else>
      <section :aria-label="SAY.machine.howItDecides">
        <h2>How it decides{{ logic.built ? ', as it was found' : '' }}</h2>
        <p v-for="s in logic.found.sentences" :key="s.effect" class="sentence" :class="s.effect">
          <small class="mark">{{ MARK[s.effect] }}</small> {{ s.says }}
        </p>
        <template v-if="logic.built">
          <h2>{{ SAY.machine.asItsMakerBuiltIt }}</h2>
          <p v-for="s in logic.built.sentences" :key="s.effect" class="sentence" :class="s.effect">
            <small class="mark">{{ MARK[s.effect] }}</small> {{ s.says }}
          </p>
        </template>
        <ul v-if="detail.notes.length" class="notes">
          <li v-for="n in detail.notes" :key="n">{{ n }}</li>
        </ul>
      </section>
      <DutyList
        :duties="logic.found.duties"
        :built="logic.built?.duties"
        :controls="detail.controls"
        :usual="detail.usual"
        @go="(set) => emit('go', { set, engine: 'stopped' })"
      />
      <InterlockTable
        class="table"
        :detail="detail"
        :standing="standing"
        :rows="logic.found.table"
        @go="emit('go', $event)"
      />
    </template>
  </div>
</template>

<style scoped>
.decides {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
  gap: 10px 34px;
  padding: 0 20px;
}
.table {
  grid-column: 1 / -1;
}
h2 {
  margin: 4px 0 8px;
  font-size: 20px;
}
.sentence {
  display: flow-root;
  margin: 0 0 8px;
  padding: 4px 0 4px 14px;
  border-left: 6px solid var(--ember);
  font-size: 20px;
  line-height: 1.35;
}
.stops {
  border-left: 8px double var(--slate);
}
.blades {
  border-color: var(--ink);
}
.mark {
  float: right;
  margin-left: 12px;
  font-size: 14px;
  color: var(--quiet);
}
.notes {
  margin: 10px 0 0;
  padding-left: 20px;
  font-size: 16px;
  color: var(--quiet);
}
@media (max-width: 1000px) {
  .decides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
