<script setup lang="ts">
import type { FoundView } from '../api/client'
import { SAY } from '../words/say'

defineProps<{ found: FoundView[] }>()
</script>

<template>
  <aside v-if="found.length" class="found" :aria-label="SAY.common.notAsBuilt">
    <b>{{ SAY.shell.notAsTheMakerBuilt }}</b>{{ ' ' }}
    <template v-for="f in found" :key="f.change"
      >{{ f.note }} <code class="mono">{{ f.change }}</code>{{ ' ' }}</template
    >
    {{ SAY.shell.putItRightBeforeAnything }}
  </aside>
</template>

<style scoped>
.found {
  padding: 8px 14px 8px 44px;
  font-size: 17px;
  background:
    linear-gradient(var(--panel), var(--panel)) 30px 0 / 100% 100% no-repeat,
    repeating-linear-gradient(135deg, var(--ochre) 0 8px, var(--ochre-wash) 8px 16px);
  border: 1px solid var(--ochre);
}
code {
  font-size: 14px;
}
</style>
