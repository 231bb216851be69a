<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SoakEntry, SoakView, Trigger } from '../../api/client'
import { typedNumber } from '../../words/battery'
import { onTheClock, TRIGGERS } from '../../words/soak'
import { SAY } from '../../words/say'

/** The clock, what brings it on, and what happens. */
const props = defineProps<{
  soak: NonNullable<SoakView['standing']>
  seconds: number
  busy: boolean
  enter: (entry: SoakEntry) => Promise<boolean>
}>()

const off = ref('')
const on = computed(() => new Set(props.soak.on))
const allOn = computed(() => props.soak.needs.every((t) => on.value.has(t)))

const toggle = (trigger: Trigger) =>
  props.enter({ kind: 'trigger', trigger, on: !on.value.has(trigger) })
const pause = () => props.enter({ kind: props.soak.running ? 'paused' : 'resumed' })
const happened = () => props.enter({ kind: 'failed' })

async function takeOff() {
  const minutes = typedNumber(off.value)
  if (minutes !== undefined && (await props.enter({ kind: 'taken-off', minutes }))) off.value = ''
}

/** A key of the page; whether it was used. */
function press(key: string): boolean {
  if (props.busy) return false
  const trigger = props.soak.needs[Number(key) - 1]
  if (trigger) void toggle(trigger)
  else if (key === 'f') void happened()
  else if (key === 'p') void pause()
  else return false
  return true
}
defineExpose({ press })
</script>

<template>
  <section class="clock" :aria-label="SAY.soak.theClock">
    <p class="time mono" :class="{ stands: !soak.running }" role="timer">
      {{ onTheClock(seconds) }}
    </p>
    <p v-if="!soak.running" class="note">{{ SAY.soak.clockStands }}</p>
    <p v-else-if="!allOn" class="note">{{ SAY.soak.notBroughtOn }}</p>
    <div v-if="soak.needs.length" class="needs">
      <v-btn
        v-for="(t, i) in soak.needs"
        :key="t"
        height="64"
        :class="{ strong: on.has(t) }"
        :aria-pressed="on.has(t)"
        :disabled="busy"
        @click="toggle(t)"
        ><kbd>{{ i + 1 }}</kbd
        >&nbsp;{{ TRIGGERS[t] }}: {{ on.has(t) ? SAY.soak.yesNow : SAY.soak.notNow }}</v-btn
      >
    </div>
    <v-btn class="happened" height="84" :disabled="busy" @click="happened"
      ><kbd>f</kbd>&nbsp;{{ SAY.soak.itHappened }}</v-btn
    >
    <div class="row">
      <v-btn height="56" :disabled="busy" @click="pause"
        ><kbd>p</kbd>&nbsp;{{ soak.running ? SAY.soak.stopClock : SAY.soak.goOn }}</v-btn
      >
      <v-btn height="56" :disabled="busy" @click="enter({ kind: 'ended' })">{{
        SAY.soak.end
      }}</v-btn>
    </div>
    <details>
      <summary>{{ SAY.soak.takeOff }}</summary>
      <form class="row" @submit.prevent="takeOff">
        <v-text-field
          v-model="off"
          class="off"
          :label="SAY.soak.minutesOff"
          inputmode="decimal"
          hide-details
        />
        <v-btn type="submit" height="48" :disabled="busy || !off.trim()">{{
          SAY.soak.takeThemOff
        }}</v-btn>
      </form>
    </details>
  </section>
</template>

<style scoped>
.clock {
  display: grid;
  gap: 14px;
}
.time {
  margin: 0;
  font-size: 84px;
  font-weight: 700;
  line-height: 1;
}
.stands {
  color: var(--quiet);
}
.note {
  margin: 0;
  padding: 8px 12px;
  border-left: 8px solid var(--ochre);
  background: var(--panel);
  font-size: 18px;
}
.needs {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 8px;
}
.happened {
  border: 3px solid var(--plum);
  font-size: 22px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.off {
  max-width: 240px;
}
summary {
  min-height: 44px;
  line-height: 44px;
}
</style>
