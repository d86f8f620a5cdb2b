<script setup lang="ts">
import { computed, ref } from 'vue';
import { useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const onBoard = useReading(({ deck }) => deck.onBoard);
const freeM = useReading(({ deck }) => deck.freeM);
const capacityM = useReading(({ deck }) => deck.capacityM);
const boarding = useReading(({ deck }) => deck.boarding);
const hold = useReading(({ deck }) => deck.hold);
const { deck } = useSenders();

const metres = ref('');
const state = computed(() =>
  boarding.value ? 'boarding' : `no boarding${hold.value === null ? '' : `: ${hold.value}`}`,
);
</script>

<template>
  <h2>Deck</h2>
  <p class="row">
    <b id="freeM">{{ freeM }}</b> of <b id="capacityM">{{ capacityM }}</b> m free ·
    <span id="boarding">{{ state }}</span>
  </p>
  <form id="stretch" @submit.prevent="report(deck.stretch(metres))">
    <input v-model="metres" type="text" name="metres" aria-label="metres of deck" placeholder="metres" />
    <button>Measure deck</button>
    <button type="button" data-deed="depart" @click="report(deck.depart())">Depart</button>
    <button type="button" data-deed="hold" @click="report(deck.holdFor(hold === null ? 'fog' : null))">
      Hold
    </button>
  </form>
  <ul id="onBoard">
    <li v-for="one in onBoard" :key="one.id">
      <span>{{ one.plate }} · {{ one.lengthM }} m · {{ one.lane }}</span>
    </li>
  </ul>
</template>
