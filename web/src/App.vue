<script setup lang="ts">
import { useThemeChoice } from './theme/useThemeChoice'

useThemeChoice()
</script>

<template>
  <v-app>
    <router-view />
  </v-app>
</template>
