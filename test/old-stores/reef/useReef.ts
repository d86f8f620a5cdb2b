import { computed, reactive, readonly, ref, watch } from 'vue';

export interface Dive { id: string; site: string; metres: number }

export function useReef() {
  const dives = ref<Dive[]>([]);
  const deepest = ref(0);
  const only = ref('');
  const settings = reactive({ unit: 'm' as 'm' | 'ft' });
  const warned = ref(0);

  const shown = computed(() =>
    dives.value
      .filter((d) => only.value === '' || d.site === only.value)
      .map((d) => (settings.unit === 'm' ? `${d.site} ${d.metres} m` : `${d.site} ${Math.round(d.metres * 3.281)} ft`)),
  );
  const sites = computed(() => {
    const all: Record<string, number> = Object.create(null);
    for (const d of dives.value) all[d.site] = d.metres;
    return all;
  });
  const average = computed(() => (dives.value.length ? dives.value.reduce((n, d) => n + d.metres, 0) / dives.value.length : null));

  // effects that follow: they run after the handler, before the page is drawn
  watch(() => dives.value.map((d) => d.metres), (now) => {
    const most = Math.max(0, ...now);
    if (most > deepest.value) deepest.value = most;
  });
  watch(deepest, (metres) => {
    if (metres > 40) warned.value++;
  });

  function log(site: string, metres: number) {
    dives.value.unshift({ id: crypto.randomUUID(), site, metres });
  }
  function erase(id: string) {
    const i = dives.value.findIndex((d) => d.id === id);
    if (i < 0) return false;
    dives.value.splice(i, 1);
    return true;
  }
  function forget() {
    dives.value = [];
    only.value = '';
  }

  return { dives: readonly(dives), deepest, only, settings, warned, shown, sites, average, log, erase, forget };
}
