<script setup lang="ts">
import { useHosted, useReading, useSenders } from '../stores/proxy/vue.js';
import { report } from './stores.js';

const speed = useReading(({ wind }) => wind.speed);
const mood = useReading(({ wind }) => wind.mood);
const onWatch = useReading(({ desk }) => desk.title);
const berthNumber = useReading(({ berth }) => berth.value);
const sailings = useReading(({ log }) => log.sailings);
const due = useReading(({ plan }) => plan.due);
const senders = useSenders();
const { attach } = useHosted();
const { wind, desk, berth } = senders;

const sign = () =>
  onWatch.value === 'nobody' ? desk.signIn({ name: 'Inga', rank: 'master' }) : desk.signOut();

/** The tariff desk is loaded when it is opened; until then its store is null. */
async function openTariff() {
  const { tariffStore } = await import('../stores/proxy/stores/tariff.js');
  report(attach(tariffStore));
}

function raise() {
  if (senders.tariff !== null) report(senders.tariff.raise());
}
</script>

<template>
  <h2 style="margin-top: 18px">Bridge</h2>
  <p class="row">
    Wind <b id="wind">{{ speed }}</b> m/s, <span id="mood">{{ mood }}</span>
    <button type="button" data-deed="gust" @click="report(wind.measure(22))">Gust of 22</button>
  </p>
  <p class="row">
    On watch: <span id="onWatch">{{ onWatch }}</span>
    <button type="button" data-deed="sign" @click="report(sign())">Sign in or out</button>
  </p>
  <p class="row">
    Tariff desk: <span id="due">{{ due === null ? 'closed' : `${due} EUR due on board` }}</span>
    <button id="openTariff" type="button" :hidden="due !== null" @click="openTariff">Open</button>
    <button id="raise" type="button" :hidden="due === null" @click="raise">Dearer</button>
  </p>
  <p class="row">
    Berth <b id="berth">{{ berthNumber }}</b
    >, sailings today <b id="sailings">{{ sailings }}</b>
    <button
      type="button"
      data-deed="moor"
      @click="report(berthNumber === 0 ? berth.moor(2) : berth.castOff())"
    >
      Moor or cast off
    </button>
  </p>
</template>
