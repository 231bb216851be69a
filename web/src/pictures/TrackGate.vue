<script setup lang="ts">
import { computed } from 'vue'
import type { ElementView } from '../api/client'
import { capital } from '../words/units'
import { halo } from './trackState'
import { SAY } from '../words/say'

const props = defineProps<{ element: ElementView; broken: boolean }>()

/** What the operator does, above how; of a fuse or a load, its name. */
const title = computed<[string, string]>(() => {
  const { gate, name: full, role } = props.element
  if (gate) return [gate.control_name, gate.position_name]
  const [name = '', own = ''] = full.split(', ')
  if (role === 'diode') return ['', '']
  return role === 'load' ? [capital(name.split(' ').at(-1) ?? name), own] : ['', capital(name)]
})
</script>

<template>
  <g>
    <rect
      v-if="halo(element)"
      class="box"
      x="-23"
      y="-34"
      width="46"
      height="50"
      rx="9"
      :stroke-width="halo(element)"
    />
    <rect class="clear" x="-13" y="-6" width="26" height="12" />
    <template v-if="element.role === 'gate'">
      <line
        class="arm"
        :class="{ broken: broken }"
        x1="-12"
        y1="0"
        :x2="element.made && !broken ? 12 : 10"
        :y2="element.made && !broken ? 0 : -20"
      />
      <circle class="post" cx="-12" cy="0" r="4.5" />
      <circle class="post" cx="12" cy="0" r="4.5" />
    </template>
    <path v-else-if="element.role === 'fuse'" class="arm thin" d="M-11 0c5-9 5 9 11 0s5 9 11 0" />
    <g v-else-if="element.role === 'diode'" class="diode">
      <path class="arm thin" d="M-9-9v18L7 0z" />
      <line class="arm thin" x1="8" x2="8" y1="-9" y2="9" />
    </g>
    <path v-else class="arm thin" d="M-16 0c0-9 8-9 8 0c0-9 8-9 8 0c0-9 8-9 8 0c0-9 8-9 8 0" />
    <text class="gate-name" y="-58">{{ title[0] }}</text>
    <text class="gate-does" y="-42">{{ title[1] }}</text>
    <text v-if="broken" class="state bad" y="32">{{ SAY.common.open }}</text>
    <text v-else-if="element.proof" class="state good" y="-16">
      {{ element.proof === 'under-load' ? '✓✓' : '✓' }}
      <title>
        {{
          element.proof === 'under-load'
            ? SAY.pictures.passedUnderLoad
            : SAY.pictures.notOpenNotLoaded
        }}
      </title>
    </text>
  </g>
</template>

<style scoped>
text {
  fill: var(--ink);
  text-anchor: middle;
  font-size: 14px;
}
.clear {
  fill: var(--paper);
}
.arm {
  stroke: var(--ink);
  stroke-width: 6;
  stroke-linecap: round;
  fill: none;
}
.arm.thin {
  stroke-width: 3;
}
.diode .arm {
  stroke-width: 2.5;
  stroke-linejoin: round;
  fill: var(--paper);
}
.arm.broken {
  stroke: var(--plum);
}
.post {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.box {
  fill: none;
  stroke: var(--plum);
}
.gate-name {
  font-size: 16px;
  font-weight: 700;
}
.gate-does {
  fill: var(--quiet);
}
.state {
  font-weight: 700;
}
.good {
  fill: var(--moss);
}
.bad {
  fill: var(--plum);
}
</style>
