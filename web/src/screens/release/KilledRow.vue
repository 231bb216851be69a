<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ReleaseEntry, ReleaseView } from '../../api/client'
import { causeTest } from '../../words/causes'
import { SAY } from '../../words/say'
import { capital, unitName } from '../../words/units'
import CauseLine from '../CauseLine.vue'

/** A part that was found bad: what may have killed it, whether that is there, or what else it was. */
const props = defineProps<{
  killed: ReleaseView['killed'][number]
  log: ReleaseView['log']
  open: boolean
  job: string
}>()
const emit = defineEmits<{ enter: [entry: ReleaseEntry]; undo: [entry: string] }>()
/** What was said by hand last, to be undone. */
const last = (is: (entry: ReleaseEntry) => boolean) =>
  props.log.findLast((own) => !own.taken_back && is(own.entry))?.id
const looked = (fault: string) => last((e) => e.kind === 'checked' && e.fault === fault)
const word = computed(() => last((e) => e.kind === 'cause' && e.unit === props.killed.unit.id))
const how = ref(props.killed.said ?? '')

/** It will kill the next one, whatever anybody says: it has to be put right. */
const there = computed(() => props.killed.causes.some((c) => c.cause.checked === 'bad'))

/** What a mechanic sees on the part in the hand. */
const SEEN = [SAY.release.notBurnt, SAY.release.wornOut, SAY.release.waterGotIn]

const checked = ({ fault, cause }: ReleaseView['killed'][number]['causes'][number], bad: boolean) =>
  emit('enter', {
    kind: 'checked',
    fault,
    bad,
    how: causeTest(cause) || SAY.release.checkedByHand,
  })
function say(words: string) {
  how.value = words
  emit('enter', { kind: 'cause', unit: props.killed.unit.id, how: words })
}
</script>

<template>
  <div class="killed">
    <p>
      <b>{{ capital(unitName(props.killed.unit)) }}: {{ killed.fails }}</b>
      <span v-if="!killed.open" class="clear"> ✓ {{ SAY.release.causeLookedAt }}</span>
    </p>
    <ul>
      <li v-for="own in killed.causes" :key="own.fault">
        <CauseLine :cause="own.cause">
          <template v-if="open">
            <v-btn height="44" @click="checked(own, false)">{{ SAY.release.fine }}</v-btn>
            <v-btn height="44" @click="checked(own, true)">{{ SAY.release.bad }}</v-btn>
          </template>
        </CauseLine>
        <v-btn
          v-if="open && looked(own.fault)"
          class="no-print"
          height="44"
          @click="emit('undo', looked(own.fault) ?? '')"
          >{{ SAY.common.undo }}</v-btn
        >
      </li>
    </ul>
    <p v-if="killed.said">
      {{ SAY.release.itWas }} {{ killed.said }}
      <v-btn v-if="open && word" class="no-print" height="44" @click="emit('undo', word)">{{
        SAY.common.undo
      }}</v-btn>
    </p>
    <template v-if="open && killed.open">
      <p v-if="there">{{ killed.open }}</p>
      <div class="row">
        <v-btn height="44" :to="`/jobs/${job}`">{{
          there ? SAY.common.backToTheJob : SAY.release.measureInTheJob
        }}</v-btn>
        <template v-if="!there">
          <v-btn v-for="words in SEEN" :key="words" height="44" @click="say(words)">{{
            words
          }}</v-btn>
        </template>
      </div>
      <form v-if="!there" class="row" @submit.prevent="say(how)">
        <v-text-field v-model="how" :label="SAY.release.orItWas" maxlength="400" hide-details />
        <v-btn type="submit" height="48" :disabled="!how.trim()">{{ SAY.common.record }}</v-btn>
      </form>
    </template>
  </div>
</template>

<style scoped>
.killed {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
p {
  margin: 0;
}
ul {
  margin: 0;
  padding-left: 18px;
  line-height: 1.35;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.row > .v-btn {
  font-size: 16px;
}
.row > .v-input {
  flex: 1 1 200px;
  max-width: 480px;
}
.clear {
  color: var(--moss);
}
</style>
