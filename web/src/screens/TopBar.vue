<script setup lang="ts">
import { mdiMenu, mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { ref } from 'vue'
import { useThemeChoice } from '../theme/useThemeChoice'
import { SAY } from '../words/say'

const { name, toggle } = useThemeChoice()
/** On a phone the rest of the bar folds. */
const open = ref(false)
</script>

<template>
  <header class="bar" :class="{ open }">
    <router-link class="brand" to="/" :aria-label="SAY.shell.kelvokAllJobs">
      <svg viewBox="0 0 36 24" width="36" height="24" aria-hidden="true">
        <path class="hot" d="M1 17h9" />
        <path class="arm" d="M10 17 24 5" />
        <path class="cold" d="M26 17h9" />
      </svg>
      <span class="name">{{ SAY.shell.kelvok }}</span>
    </router-link>
    <nav class="no-print" :aria-label="SAY.shell.kelvok">
      <router-link to="/">{{ SAY.common.jobs }}</router-link>
      <router-link to="/machines">{{ SAY.common.machines }}</router-link>
      <router-link to="/bench">{{ SAY.common.switchBench }}</router-link>
    </nav>
    <div class="middle"><slot /></div>
    <v-btn
      class="fold no-print"
      icon
      variant="text"
      :aria-label="SAY.shell.more"
      :aria-expanded="open"
      @click="open = !open"
      ><v-icon :icon="mdiMenu"
    /></v-btn>
    <div class="right">
      <slot name="right" />
      <v-btn
        class="no-print"
        icon
        variant="text"
        :aria-label="name === 'day' ? SAY.shell.bayTheme : SAY.shell.dayTheme"
        @click="toggle"
      >
        <v-icon :icon="name === 'day' ? mdiWeatherNight : mdiWhiteBalanceSunny" />
      </v-btn>
    </div>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 18px;
  padding: 6px 20px;
  border-bottom: 2px solid var(--ink);
}
.brand {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
  font-size: 21px;
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
}
path {
  fill: none;
  stroke-width: 4;
}
.hot {
  stroke: var(--ember);
}
.arm {
  stroke: var(--ink);
  stroke-linecap: round;
}
.cold {
  stroke: var(--dead);
}
nav {
  display: flex;
  gap: 2px;
}
nav a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 8px;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 4px solid transparent;
}
nav a.router-link-exact-active {
  border-color: var(--ember);
  font-weight: 700;
}
.middle {
  flex: 1;
  min-width: 150px;
}
.right {
  display: flex;
  align-items: center;
  gap: 4px;
}
@media (max-width: 900px) {
  .middle {
    order: 1;
    flex-basis: 100%;
  }
  .right {
    margin-left: auto;
  }
}
.fold {
  display: none;
}
@media (max-width: 600px) {
  .bar {
    padding: 2px 10px;
    gap: 0 8px;
  }
  .fold {
    display: inline-grid;
  }
  .name,
  .bar:not(.open) nav,
  .bar:not(.open) .right {
    display: none;
  }
  .middle {
    order: 0;
    flex-basis: 0;
    min-width: 0;
  }
  .open nav,
  .open .right {
    flex-basis: 100%;
    flex-wrap: wrap;
    order: 2;
    margin: 0;
  }
}
</style>
