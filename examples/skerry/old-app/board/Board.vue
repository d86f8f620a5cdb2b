<!-- The board at the pier. -->
<script setup lang="ts">
import { computed } from 'vue';
import { terminal } from '../session';

const props = defineProps<{ heading: string }>();
const gusts = computed(() => terminal.lastGusts);
const free = computed(() => terminal.capacity - terminal.metresAboard());
</script>

<template>
  <h2>{{ props.heading }}</h2>
  <p v-if="terminal.onHold !== null">{{ terminal.onHold }}</p>
  <p v-else>{{ free }} m free, gusts {{ gusts.join(', ') }}</p>
  <ul>
    <li v-for="car in terminal.cars" :key="car.number" :title="car.plate">
      {{ car.plate }} {{ car.metres }} m
      <button @click="terminal.sendAway(car.number)">send away</button>
    </li>
  </ul>
  <input v-model="terminal.windLimit" type="number" />
</template>
