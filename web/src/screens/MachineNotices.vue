<script setup lang="ts">
import type { FoundView } from '../api/client'
import FoundNotice from './FoundNotice.vue'
import UsualNotice from './UsualNotice.vue'

/** What is to be known of a machine before anything is believed of it. */
defineProps<{ of: { found: FoundView[]; usual: boolean }; machine?: string }>()
</script>

<template>
  <FoundNotice :found="of.found" />
  <UsualNotice v-if="of.usual" :machine="machine" />
</template>
