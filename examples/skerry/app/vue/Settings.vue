<script setup lang="ts">
import { watchEffect } from 'vue';
import type { Lane } from '../stores/proxy/index.js';
import { useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const firstLane = useReading(({ settings }) => settings.firstLane);
const isLarge = useReading(({ settings }) => settings.largeType);
const { settings } = useSenders();

const prefer = ({ target }: Event) =>
  report(settings.preferLane((target as HTMLSelectElement).value as Lane));

watchEffect(() => {
  document.body.classList.toggle('large', isLarge.value);
});
</script>

<template>
  <h2 style="margin-top: 18px">Settings of the desk</h2>
  <p class="row">
    <label>
      First lane
      <select id="firstLane" :value="firstLane" @change="prefer">
        <option>port</option>
        <option>centre</option>
        <option>starboard</option>
      </select>
    </label>
    <button type="button" data-deed="enlarge" @click="report(settings.enlarge())">Large type</button>
  </p>
</template>
