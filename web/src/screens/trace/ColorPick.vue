<script setup lang="ts">
import { ref } from 'vue'
import { SAY } from '../../words/say'
import { WIRE_COLORS } from '../../words/trace'

/** The color of a wire by two taps: its base, then its stripe. */
const props = defineProps<{ of: string; color?: string | null }>()
const emit = defineEmits<{ pick: [color: string]; empty: [] }>()
const open = ref(false)
const base = ref<string>()

function stripe(color?: string) {
  if (!base.value) return
  emit('pick', color ? `${base.value}/${color}` : base.value)
  close()
}
function close() {
  open.value = false
  base.value = undefined
}
function none() {
  emit('empty')
  close()
}
</script>

<template>
  <v-btn class="color" @click="open = true">
    {{ color ? `${SAY.trace.wire}: ${color}` : SAY.trace.wireColor }}
    <span class="seen-by-readers-only">{{ SAY.trace.colorOf }} {{ of }}</span>
  </v-btn>
  <v-dialog
    :model-value="open"
    max-width="560"
    :aria-label="SAY.trace.color"
    @update:model-value="close"
  >
    <section class="pick">
      <h2>{{ SAY.trace.colorOf }} {{ props.of }}</h2>
      <template v-if="!base">
        <div class="all">
          <v-btn v-for="c in WIRE_COLORS" :key="c" :data-color="c" @click="base = c">{{ c }}</v-btn>
        </div>
        <v-btn @click="none">{{ SAY.trace.noWireHere }}</v-btn>
      </template>
      <template v-else>
        <h3>{{ base }}. {{ SAY.trace.stripe }}:</h3>
        <v-btn class="strong" data-color="none" @click="stripe()">{{ SAY.trace.noStripe }}</v-btn>
        <div class="all">
          <v-btn
            v-for="c in WIRE_COLORS.filter((c) => c !== base)"
            :key="c"
            :data-color="c"
            @click="stripe(c)"
            >{{ c }}</v-btn
          >
        </div>
      </template>
      <v-btn variant="text" @click="close">{{ SAY.common.cancel }}</v-btn>
    </section>
  </v-dialog>
</template>

<style scoped>
.pick {
  display: grid;
  gap: 12px;
  padding: 18px;
  background: var(--panel);
  border: 2px solid var(--ink);
  border-radius: 12px;
}
.all {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(110px, 1fr));
  gap: 8px;
}
.all :deep(.v-btn) {
  height: 52px !important;
  font-size: 17px;
}
h2,
h3 {
  margin: 0;
  font-size: 20px;
}
</style>
