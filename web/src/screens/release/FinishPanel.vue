<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ReleaseEntry, ReleaseView } from '../../api/client'
import { SAY } from '../../words/say'
import FuseRow from './FuseRow.vue'
import KilledRow from './KilledRow.vue'
import ReadingRow from './ReadingRow.vue'
import SignaturePad from './SignaturePad.vue'

/** What is left besides the steps: fuses, readings, the name under it. */
const props = defineProps<{
  view: ReleaseView
  job: string
  person: string
  busy: boolean
  enter: (entry: ReleaseEntry) => Promise<boolean>
}>()
const emit = defineEmits<{ go: [step: number]; undo: [entry: string] }>()

const name = ref(props.person)
const role = ref('')
const strokes = ref<[number, number][][]>([])
const reason = ref('')
const may = computed(() => !props.view.blockers.length && !props.busy && !!name.value.trim())

async function sign() {
  if (!may.value) return
  await props.enter({ kind: 'signed', name: name.value, role: role.value, strokes: strokes.value })
}
async function giveBack() {
  await props.enter({ kind: 'returned', name: name.value, reason: reason.value })
}
</script>

<template>
  <section class="finish" :aria-label="SAY.release.finish">
    <h2>{{ SAY.release.left }}</h2>
    <p v-if="!view.blockers.length" class="clear">✓ {{ SAY.release.nothingLeft }}</p>
    <ul v-else class="left">
      <li v-for="b in view.blockers" :key="b.says">
        <span>{{ b.says }}</span>
        <v-btn
          v-if="b.step != null"
          height="44"
          :aria-label="`${SAY.release.showStep}: ${SAY.release.step} ${b.step + 1}`"
          @click="emit('go', b.step)"
          >{{ SAY.release.showStep }}</v-btn
        >
      </li>
    </ul>
    <template v-if="view.fuses.length">
      <h2>{{ SAY.release.fuses }}</h2>
      <p class="quiet">{{ SAY.release.fusesHelp }}</p>
      <FuseRow
        v-for="f in view.fuses"
        :key="f.fuse"
        :fuse="f"
        :open="!busy"
        @read="enter({ kind: 'fuse', fuse: f.fuse, amps: $event })"
      />
    </template>
    <template v-if="view.readings.length">
      <h2>{{ SAY.release.readings }}</h2>
      <p class="quiet">{{ SAY.release.readingsHelp }}</p>
      <ReadingRow
        v-for="r in view.readings"
        :key="r.fault"
        :reading="r"
        :open="!busy"
        @checked="(bad, how) => enter({ kind: 'checked', fault: r.fault, bad, how })"
      />
    </template>
    <template v-if="view.killed.length">
      <h2>{{ SAY.release.killed }}</h2>
      <p class="quiet">{{ SAY.release.killedHelp }}</p>
      <KilledRow
        v-for="k in view.killed"
        :key="k.unit.id"
        :killed="k"
        :log="view.log"
        :job="job"
        :open="!busy"
        @enter="enter"
        @undo="emit('undo', $event)"
      />
    </template>
    <h2>{{ SAY.release.sign }}</h2>
    <p class="quiet">{{ SAY.release.signHelp }}</p>
    <form @submit.prevent="sign">
      <div class="who">
        <v-text-field v-model="name" class="by" :label="SAY.release.name" maxlength="80" />
        <v-text-field v-model="role" class="role" :label="SAY.release.role" maxlength="80" />
      </div>
      <SignaturePad v-model="strokes" />
      <v-btn type="submit" class="strong" height="56" :disabled="!may">{{
        SAY.release.signAndClose
      }}</v-btn>
    </form>
    <details>
      <summary>{{ SAY.release.giveBack }}</summary>
      <form @submit.prevent="giveBack">
        <p>{{ SAY.release.giveBackHelp }}</p>
        <v-textarea v-model="reason" :label="SAY.release.reason" rows="2" maxlength="400" />
        <v-btn type="submit" height="52" :disabled="busy || !reason.trim() || !name.trim()">{{
          SAY.release.giveBackNow
        }}</v-btn>
      </form>
    </details>
    <p class="quiet">{{ SAY.release.adds }}</p>
  </section>
</template>

<style scoped>
.finish,
form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}
h2 {
  margin: 8px 0 0;
  font-size: 20px;
}
p {
  margin: 0;
}
.clear {
  padding: 10px 14px;
  border-left: 8px solid var(--moss);
  background: var(--panel);
  font-weight: 600;
}
.left {
  margin: 0;
  padding: 0;
  list-style: none;
}
.left li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 48px;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
.who {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 10px;
  max-width: 640px;
}
form > .v-btn {
  justify-self: start;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
  font-weight: 600;
}
</style>
