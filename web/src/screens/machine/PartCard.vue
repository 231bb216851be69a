<script setup lang="ts">
import type { PartView } from '../../api/client'
import { PART_KIND } from '../../words/codes'
import { capital } from '../../words/units'

defineProps<{ part: PartView }>()
const emit = defineEmits<{ choose: [id: string] }>()
</script>

<template>
  <section :aria-label="part.name">
    <h2>{{ capital(part.name) }}</h2>
    <p class="quiet">
      {{ capital(PART_KIND[part.kind]) }}<template v-if="part.place">, {{ part.place }}</template
      ><template v-if="part.cover">: {{ part.cover }}</template>
    </p>
    <p v-if="part.linkage">Plunger worked by the {{ part.linkage }}.</p>
    <ul v-if="part.contacts.length">
      <li v-for="c in part.contacts" :key="c.name">
        <b>{{ capital(c.name) }}</b>, {{ c.between.join(' to ') }}: {{ c.made }}
      </li>
    </ul>
    <p v-for="p in part.ports.filter((q) => q.wires.length)" :key="p.terminal" class="port">
      <b class="mono">{{ p.terminal }}</b><template v-if="p.plug">
        ({{ p.plug }} {{ p.cavity }})</template
      >
      <button v-for="w in p.wires" :key="w" type="button" class="mono" @click="emit('choose', w)">
        {{ w }}
      </button>
    </p>
    <p v-if="part.note">{{ part.note }}</p>
    <p class="quiet">Known from: {{ part.source }}.</p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0;
  font-size: 22px;
}
p,
ul {
  margin: 4px 0;
}
ul {
  padding-left: 18px;
}
button {
  min-width: 44px;
  min-height: 44px;
  text-decoration: underline;
}
</style>
