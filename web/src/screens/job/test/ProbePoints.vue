<script setup lang="ts">
import type { PointView } from '../../../api/client'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'

/** Where red and black go, and where that is on the machine. */
defineProps<{
  red: PointView
  black: PointView
  /** What the meter is set to. */
  dial: string
}>()
</script>

<template>
  <dl>
    <div>
      <dt class="red">{{ SAY.common.red }}</dt>
      <dd>
        <b>{{ capital(red.name) }}</b>&nbsp;
        <span v-if="red.colors.length" class="quiet">{{ red.colors.join(', ') }}</span>
      </dd>
    </div>
    <div>
      <dt class="black">{{ SAY.common.black }}</dt>
      <dd>
        <b>{{ capital(black.name) }}</b>
      </dd>
    </div>
  </dl>
  <p class="quiet where">
    {{ dial }} {{ capital(red.name) }}: {{ red.place
    }}<template v-if="red.cover">, {{ red.cover }} off</template>.
  </p>
</template>

<style scoped>
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 0;
  font-size: 18px;
}
dl div {
  display: flex;
  gap: 8px;
}
dt {
  flex: none;
  padding-left: 20px;
  position: relative;
  font-weight: 700;
}
dt::before {
  content: '';
  position: absolute;
  left: 0;
  top: 6px;
  width: 13px;
  height: 13px;
  border: 2px solid var(--ink);
  border-radius: 4px;
}
.red::before {
  background: var(--ember);
}
.black::before {
  background: #000;
}
dd {
  margin: 0;
}
.where {
  margin: 0;
  font-size: 15px;
}
</style>
