import { effectScope, toRaw, watch } from 'vue';
import { useReef } from './useReef';

export default {
  name: 'old reef',
  keepsSnapshots: false,
  settlesLater: true,
  create() {
    const scope = effectScope();
    const r = scope.run(() => useReef())!;
    return {
      actions: { reef: {
        useUnit: (u: any) => { r.settings.unit = u; }, log: (p: any) => r.log(p.site, p.metres), filter: (t: string) => { r.only.value = t; },
        erase: (id: string) => r.erase(id), forget: () => r.forget(),
      } },
      state: { reef: {
        dives: () => toRaw(r.dives.value).map((d) => ({ ...toRaw(d) })), deepest: () => r.deepest.value, only: () => r.only.value,
        unit: () => r.settings.unit, warned: () => r.warned.value,
      } },
      derived: { reef: { shown: () => r.shown.value, sites: () => ({ ...r.sites.value }), average: () => r.average.value } },
      watch: {
        'reef.deepest': (changed: any) => scope.run(() => watch(r.deepest, (now, old) => changed(now, old))),
        'reef.only': (changed: any) => scope.run(() => watch(r.only, (now, old) => changed(now, old))),
      },
      close: () => scope.stop(),
    };
  },
};
