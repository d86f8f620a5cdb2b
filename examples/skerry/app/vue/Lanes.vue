<script setup lang="ts">
import { ref, watch } from 'vue';
import { useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const waiting = useReading(({ deck }) => deck.waiting);
const firstLane = useReading(({ settings }) => settings.firstLane);
const { deck } = useSenders();

const plate = ref('');
const lengthM = ref('4.5');
const lane = ref(firstLane.value);
watch(firstLane, (now) => (lane.value = now));

const admit = () =>
  report(deck.admit({ plate: plate.value, lengthM: Number(lengthM.value), lane: lane.value }));
</script>

<template>
  <h2>Lanes</h2>
  <form id="admit" @submit.prevent="admit">
    <input v-model="plate" type="text" name="plate" placeholder="plate" aria-label="plate" />
    <input v-model="lengthM" type="number" name="lengthM" step="0.5" aria-label="length in metres" />
    <select id="lane" v-model="lane" name="lane" aria-label="lane">
      <option>port</option>
      <option>centre</option>
      <option>starboard</option>
    </select>
    <button>Admit</button>
  </form>
  <ul id="waiting">
    <li v-for="one in waiting" :key="one.id">
      <span>{{ one.plate }} · {{ one.lengthM }} m · {{ one.lane }}</span>
      <button type="button" data-deed="board" @click="report(deck.board(one.id))">board</button>
      <button type="button" data-deed="turn away" @click="report(deck.turnAway(one.id))">
        turn away
      </button>
    </li>
  </ul>
</template>
