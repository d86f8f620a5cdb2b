<script setup lang="ts">
import { manners } from '../office.js';
import Bridge from './Bridge.vue';
import Deck from './Deck.vue';
import Lanes from './Lanes.vue';
import Plan from './Plan.vue';
import Settings from './Settings.vue';
import Timetable from './Timetable.vue';
import { manner, said } from './stores.js';
</script>

<template>
  <header>
    <h1>Skerry Sound ferry terminal</h1>
    <label>
      The office is
      <select id="office" v-model="manner">
        <option v-for="one in manners" :key="one">{{ one }}</option>
      </select>
    </label>
    <span>Vue, proxy stores</span>
  </header>
  <p id="said" role="status">{{ said }}</p>
  <main>
    <section>
      <Lanes />
      <Plan />
      <Timetable />
    </section>
    <section>
      <Deck />
      <Bridge />
      <Settings />
    </section>
  </main>
</template>
