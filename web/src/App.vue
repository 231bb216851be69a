<script setup lang="ts">
import WhoDialog from './screens/WhoDialog.vue'
import { useThemeChoice } from './theme/useThemeChoice'

useThemeChoice()
</script>

<template>
  <v-app>
    <router-view />
    <WhoDialog />
  </v-app>
</template>
