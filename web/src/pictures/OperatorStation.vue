<script setup lang="ts">
import type { Condition, Control } from '../api/client'
import { SAY } from '../words/say'

defineProps<{ controls: Control[]; condition: Condition }>()
const emit = defineEmits<{ move: [control: string, position: string] }>()

/** What the words of a control's positions need, in pixels. */
function room(control: Control): number {
  const positions = control.positions.map((p) => Math.max(46, p.name.length * 8.4 + 14))
  const name = control.name.length * 7.6 + 30
  return Math.max(name, 4 + positions.reduce((sum, width) => sum + width, 0))
}

/** The arrow keys go from one position to the next, round the end. */
function step(control: Control, event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  const own = event.currentTarget as HTMLElement
  const buttons = [...own.querySelectorAll<HTMLElement>('[role=radio]')]
  const at = buttons.indexOf(document.activeElement as HTMLElement)
  const next = (at + by + buttons.length) % buttons.length
  buttons[next]?.focus()
  const position = control.positions[next]
  if (position) emit('move', control.id, position.id)
}

function press(control: Control, position: Control['positions'][number], now: string) {
  // Pressing a held momentary position again lets it go.
  const back = position.returns_to
  emit('move', control.id, back && now === position.id ? back : position.id)
}
</script>

<template>
  <div class="station" role="group" :aria-label="SAY.pictures.operatorsStation">
    <div
      v-for="control in controls"
      :key="control.id"
      class="control"
      :style="{ flexGrow: control.positions.length, flexBasis: `${room(control)}px` }"
    >
      <div :id="`control-${control.id}`" class="name">
        <kbd v-if="control.letter" aria-hidden="true">{{ control.letter.toUpperCase() }}</kbd>
        {{ control.name }}
      </div>
      <div
        class="positions"
        role="radiogroup"
        :aria-labelledby="`control-${control.id}`"
        @keydown="step(control, $event)"
      >
        <button
          v-for="position in control.positions"
          :key="position.id"
          type="button"
          role="radio"
          :aria-checked="condition[control.id] === position.id"
          :tabindex="(condition[control.id] ?? control.rest) === position.id ? 0 : -1"
          :class="{ at: condition[control.id] === position.id }"
          @click="press(control, position, condition[control.id] ?? control.rest)"
        >
          {{ position.name }}
          <small v-if="position.returns_to && condition[control.id] === position.id">{{
            SAY.pictures.held
          }}</small>
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.station {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 12px;
}
.name {
  font-size: 15px;
  margin-bottom: 4px;
  white-space: nowrap;
}
kbd {
  display: inline-block;
  min-width: 20px;
  padding: 0 5px;
  border: 1px solid var(--dead);
  border-radius: 5px;
  font:
    700 13px 'Atkinson Hyperlegible Mono',
    monospace;
  text-align: center;
}
.positions {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: 10px;
  overflow: hidden;
  background: var(--panel);
}
button {
  flex: 1;
  min-height: 44px;
  min-width: 44px;
  padding: 2px 6px;
  font-size: 16px;
  line-height: 1.1;
  color: var(--ink);
}
button + button {
  border-left: 1px solid var(--rule);
}
button.at {
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
}
button:focus-visible {
  outline-offset: -4px;
}
small {
  display: block;
  font-size: 13px;
  font-weight: 400;
}
</style>
