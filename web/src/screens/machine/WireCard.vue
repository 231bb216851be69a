<script setup lang="ts">
import { computed } from 'vue'
import type { EndView, RunView, WireView } from '../../api/client'
import { milliohms, volts } from '../../words/numbers'
import { standsWords } from '../../words/stands'
import { capital } from '../../words/units'
import { SAY } from '../../words/say'

const props = defineProps<{ run: RunView; at: WireView | undefined }>()
const emit = defineEmits<{ choose: [id: string] }>()

const ends = computed(() => [props.run.from, props.run.to])

function end(e: EndView): string {
  const plug = e.plug ? `, through ${e.plug} cavity ${e.cavity}` : ''
  return `terminal ${e.port.terminal}${plug}${e.place ? `, ${e.place}` : ''}`
}

const made = computed(() => {
  const { gauge, length_m, ohms: measures } = props.run
  const size = gauge == null ? '' : `${gauge} AWG`
  const length = length_m == null ? '' : `${length_m} m`
  return [size, length, `${milliohms(measures)} sound`].filter(Boolean).join(', ')
})
</script>

<template>
  <section :aria-label="`Wire ${run.id}`">
    <h2>
      {{ capital(run.color ?? 'wire') }} <span class="mono">{{ run.id }}</span>
    </h2>
    <p v-if="at" class="now">
      <b>{{ capital(standsWords(at.stands)) }}</b><template v-if="at.volts != null"
        >, {{ volts(at.volts) }} V</template
      ><template v-if="Math.abs(at.amps) >= 0.01">, {{ volts(Math.abs(at.amps)) }} A</template>
    </p>
    <p v-for="(e, i) in ends" :key="i">
      {{ i ? SAY.machine.to : SAY.machine.from }}
      <button type="button" @click="emit('choose', e.port.part)">{{ e.part_name }}</button>,
      {{ end(e) }}
    </p>
    <p>{{ made }}</p>
    <p class="quiet">
      <template v-if="run.bundle">In {{ run.bundle }}. </template>Known from: {{ run.source }}.
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0;
  font-size: 22px;
}
p {
  margin: 4px 0;
}
.now {
  font-size: 20px;
}
button {
  min-height: 44px;
  font-weight: 700;
  text-decoration: underline;
}
</style>
