<script setup lang="ts">
import { useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const day = useReading(({ timetable }) => timetable.day);
const crossings = useReading(({ timetable }) => timetable.crossings);
const line = useReading(({ timetable }) => timetable.line);
const isLoading = useReading(({ timetable }) => timetable.load.running);
const notice = useReading(({ notices }) => notices.text);
const { timetable } = useSenders();
</script>

<template>
  <h2 style="margin-top: 18px">Timetable</h2>
  <p class="row">
    <button type="button" data-deed="today" @click="report(timetable.load('today'))">Today</button>
    <button type="button" data-deed="tomorrow" @click="report(timetable.load('tomorrow'))">
      Tomorrow
    </button>
    <button id="cancelLoad" type="button" :hidden="!isLoading" @click="report(timetable.load.cancel())">
      Cancel
    </button>
  </p>
  <p class="row">
    <span id="day">{{ day ?? 'no day' }}</span
    >: <span id="line" :class="{ faint: isLoading }">{{ line }}</span>
  </p>
  <ul id="crossings">
    <li v-for="one in crossings" :key="one.id">
      <span>{{ one.leaves }} to {{ one.to }}</span>
      {{ one.free === 0 ? 'full' : `${one.free} places` }}
    </li>
  </ul>
  <p id="notice" class="row" role="status">{{ notice }}</p>
</template>
