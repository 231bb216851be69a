<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { api, type Control, type Reference } from '../api/client'
import { useLetters } from '../input/useShortcuts'
import { INSTRUMENT } from '../words/tests'
import { SAY } from '../words/say'

withDefaults(
  defineProps<{
    /** What the keys of this screen do, besides moving its controls. */
    keys: [string, string][]
    controls?: Control[]
  }>(),
  { controls: () => [] },
)
const emit = defineEmits<{ close: [] }>()
const { lettersOn, toggle } = useLetters()
const known = ref<Reference>()
/** Where the focus goes back to. */
const before = document.activeElement
onBeforeUnmount(() => {
  if (before instanceof HTMLElement) before.focus()
})
onMounted(async () => {
  // Without an answer the keys stand alone.
  known.value = await api.reference().catch(() => undefined)
})
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="980"
    scrollable
    :aria-label="SAY.shell.keys"
    @update:model-value="emit('close')"
    @keydown="($event.key === '?' || $event.key === 'Escape') && emit('close')"
  >
    <section class="sheet" :aria-label="SAY.shell.keys">
      <div class="head">
        <h2>{{ SAY.shell.keys }}</h2>
        <v-btn @click="emit('close')">{{ SAY.common.close }}</v-btn>
      </div>
      <dl>
        <div v-for="[key, does] in keys" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd>
        </div>
        <div v-for="control in controls" :key="control.id">
          <dt>
            <kbd>{{ control.letter }}</kbd>
          </dt>
          <dd>move {{ control.name.toLowerCase() }} on; with Shift, back</dd>
        </div>
      </dl>
      <template v-if="known">
        <h2>{{ SAY.shell.whatEachInstrumentCannotSee }}</h2>
        <dl class="limits">
          <div v-for="i in known.instruments" :key="i.instrument">
            <dt>{{ INSTRUMENT[i.instrument] }}</dt>
            <dd>{{ i.cannot_see }}</dd>
          </div>
        </dl>
      </template>
      <v-btn :aria-pressed="!lettersOn" @click="toggle">{{
        lettersOn ? SAY.shell.switchSingleLettersOff : SAY.shell.switchSingleLettersOn
      }}</v-btn>
    </section>
  </v-dialog>
</template>

<style scoped>
.sheet {
  overflow-y: auto;
  padding: 14px 16px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
h2 {
  font-size: 18px;
  margin: 0;
}
dl {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 6px 18px;
}
.limits {
  grid-template-columns: minmax(0, 1fr);
}
.limits dt {
  flex: 0 0 160px;
  font-weight: 700;
}
dl div {
  display: flex;
  gap: 10px;
}
dt {
  width: 70px;
}
dd {
  margin: 0;
}
kbd {
  padding: 1px 8px;
  border: 1px solid var(--dead);
  border-radius: 6px;
  font-family: 'Atkinson Hyperlegible Mono', monospace;
  font-weight: 700;
}
</style>
