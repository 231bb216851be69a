<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { ChoiceView } from '../../../api/client'
import { percent } from '../../../words/numbers'
import { unitName } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ choice: ChoiceView; busy: boolean }>()
const emit = defineEmits<{ reckon: [costs: { price: number; fit: number; rate: number }] }>()

const price = ref(0)
const fit = ref(0)
const rate = ref(0)
watch(
  () => props.choice,
  (c) => {
    price.value = c.price
    fit.value = c.fit_minutes
    rate.value = c.rate
  },
  { immediate: true },
)
const money = (sum: number) => sum.toFixed(2)
const share = computed(() => percent(props.choice.chance))

function reckon() {
  emit('reckon', { price: Number(price.value), fit: Number(fit.value), rate: Number(rate.value) })
}
</script>

<template>
  <section class="choice" :aria-label="SAY.job.replaceNowOrTestFirst">
    <p>
      <b>Replace the {{ unitName(choice.unit) }} now, or test first?</b> It is {{ share }} likely to
      be it.
    </p>
    <form @submit.prevent="reckon">
      <label
        >{{ SAY.common.part }} <input v-model="price" type="number" min="0" step="0.5"
      /></label>
      <label
        >{{ SAY.job.minutesToFit }} <input v-model="fit" type="number" min="0" step="1"
      /></label>
      <label
        >{{ SAY.job.shopAnHour }} <input v-model="rate" type="number" min="0" step="1"
      /></label>
      <v-btn type="submit" size="small" :disabled="busy">{{ SAY.job.update }}</v-btn>
    </form>
    <dl>
      <div>
        <dt>{{ SAY.job.swapItNowAverageCost }}</dt>
        <dd class="mono">{{ money(choice.replace_now) }}</dd>
        <dd class="how">
          {{ percent(1 - choice.chance) }} of ({{ money(choice.fitting) }} part and time +
          {{ money(choice.testing) }} testing after all)
        </dd>
      </div>
      <div>
        <dt>{{ SAY.job.testItFirstAverageCost }}</dt>
        <dd class="mono">{{ money(choice.test_first) }}</dd>
        <dd class="how">{{ choice.test_minutes.toFixed(0) }} min of the shop</dd>
      </div>
    </dl>
    <p>
      <b>{{ choice.favors_replacing ? SAY.job.replacingNow : SAY.job.testingFirst }} costs less</b>,
      on average over many such jobs. A new part may be bad too: check it before it goes in.
    </p>
  </section>
</template>

<style scoped>
.choice {
  margin-top: 10px;
  padding: 10px 12px;
  background: var(--well);
  border-radius: 10px;
}
p {
  margin: 0 0 6px;
  line-height: 1.3;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
}
label {
  flex: 1 0 80px;
  font-size: 14px;
}
input {
  width: 100%;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--dead);
  border-radius: 8px;
  background: var(--panel);
  font-size: 17px;
}
dl {
  margin: 8px 0;
}
dl div {
  display: grid;
  grid-template-columns: 1fr auto;
}
dt,
dd {
  margin: 0;
  font-weight: 700;
}
.how {
  grid-column: 1 / -1;
  font-size: 14px;
  font-weight: 400;
}
</style>
