<script setup lang="ts">
import type { Lane } from '../stores/proxy/index.js';
import { useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const lanes: readonly Lane[] = ['port', 'centre', 'starboard'];
const called = useReading(({ plan }) => plan.lanes);
const note = useReading(({ plan }) => plan.note);
const canUndo = useReading(({ plan }) => plan.canUndo);
const canRedo = useReading(({ plan }) => plan.canRedo);
const { plan } = useSenders();

const capital = (lane: Lane) => lane.charAt(0).toUpperCase() + lane.slice(1);
</script>

<template>
  <h2 style="margin-top: 18px">Next on board</h2>
  <p class="row">
    <button
      v-for="lane in lanes"
      :key="lane"
      type="button"
      :data-deed="lane"
      @click="report(plan.callLane(lane))"
    >
      {{ capital(lane) }}
    </button>
  </p>
  <p class="row">
    <span id="called">{{ called.join(', ') || 'none yet' }}</span>
    <button id="undo" type="button" :disabled="!canUndo" @click="report(plan.undo())">Undo</button>
    <button id="redo" type="button" :disabled="!canRedo" @click="report(plan.redo())">Redo</button>
  </p>
  <p class="row">
    <input
      id="planNote"
      type="text"
      maxlength="40"
      placeholder="note"
      aria-label="note"
      :value="note"
      @input="report(plan.write(($event.target as HTMLInputElement).value))"
    />
  </p>
</template>
