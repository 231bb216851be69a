<script setup lang="ts">
import { computed } from 'vue'
import type { LiveView } from '../../api/client'
import { muted, toggleMute } from '../../input/tones'
import { SAY } from '../../words/say'

const props = defineProps<{
  live: LiveView | undefined
  /** Why nothing is told of it; empty while something is. */
  lost: string
  /** The test in hand is not one for a meter. */
  idle: boolean
  /** Whether a stand-in can be told where its probes are to be. */
  brings: boolean
  /** The shop's meters; none until they were asked for. */
  meters: string[] | undefined
}>()
const emit = defineEmits<{ off: []; bring: [] }>()
const address = defineModel<string>('address', { required: true })
const on = defineModel<boolean>('on', { required: true })

const words = computed(() => {
  if (props.lost) return props.lost
  if (props.idle) return 'The next step needs no meter.'
  if (!props.live) return 'Calling the meter.'
  return props.live.sentence ?? (props.live.stands ? 'Stands still.' : 'Moving.')
})
const troubled = computed(() => !!props.lost || (props.live && props.live.state !== 'reading'))
</script>

<template>
  <section class="meter" :class="{ troubled }" :aria-label="SAY.common.meter">
    <template v-if="!on">
      <form v-if="meters?.length" @submit.prevent="on = true">
        <v-select v-model="address" :items="meters" :label="SAY.common.meter" />
        <v-btn type="submit" height="52">{{ SAY.meter.connect }}</v-btn>
      </form>
      <p v-else-if="meters" class="says">
        {{ SAY.meter.noMeterIsSetUp }} <code>--meter HOST:PORT</code> to add one.
      </p>
    </template>
    <template v-else>
      <p class="shown mono" aria-live="off">{{ idle ? '' : live?.shown || '– –' }}</p>
      <p class="says" role="status">
        <b v-if="live?.identity">{{ live.identity.model }}.</b> {{ words }}
      </p>
      <p v-if="live?.stands && !idle" class="hint quiet">
        {{ SAY.meter.readingNotTakenTouchA }}
      </p>
      <div class="row">
        <v-btn
          v-if="live?.stand_in && brings && !idle"
          data-by-foot
          size="small"
          @click="emit('bring')"
          >{{ SAY.meter.probesThere }}</v-btn
        >
        <v-btn size="small" :aria-pressed="muted" @click="toggleMute">{{
          muted ? SAY.meter.tonesOn : SAY.meter.mute
        }}</v-btn>
        <v-btn size="small" @click="emit('off')">{{ SAY.meter.off }}</v-btn>
      </div>
    </template>
  </section>
</template>

<style scoped>
.meter {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  align-items: center;
  padding: 10px 14px;
  border-left: 8px solid var(--slate);
  background: var(--well);
  border-radius: 8px;
}
.troubled {
  border-color: var(--plum);
}
.says:only-child {
  grid-column: 1 / -1;
}
form {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
}
p {
  margin: 0;
  line-height: 1.25;
}
.shown {
  min-width: 132px;
  font-size: 32px;
  font-weight: 700;
  white-space: nowrap;
}
.says {
  font-size: 15px;
}
.hint {
  grid-column: 1 / -1;
  font-size: 14px;
}
.row {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
