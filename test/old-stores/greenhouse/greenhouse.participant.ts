import { greenhouse, type Vent } from './greenhouse';

export default {
  name: 'old greenhouse',
  create() {
    const g = greenhouse();
    const { beds, target, warmth, vent, manual, log, dry, tooWarm, label } = g;
    return {
      actions: { house: {
        setTarget: (p: number) => target.set(p),
        measure: (p: number) => g.measure(p),
        turn: (p: Vent) => g.turn(p),
        byHand: (p: boolean) => manual.set(p),
        plant: (p: { bed: string; plant: string }) => g.plant(p.bed, p.plant),
        water: (p: { bed: string; by: number }) => g.water(p.bed, p.by),
        dryOut: () => g.dryOut(),
        clear: (p: string) => g.clear(p),
      } },
      state: { house: {
        beds: () => Object.fromEntries(beds.get()), target: () => target.get(), warmth: () => warmth.get(),
        vent: () => vent.get(), manual: () => manual.get(), log: () => log.get(),
      } },
      derived: { house: { dry: () => dry.get(), tooWarm: () => tooWarm.get(), label: () => label.get() } },
      watch: {
        'house.vent': (changed: (now: unknown, old: unknown) => void) => vent.watch(changed),
        'house.target': (changed: (now: unknown, old: unknown) => void) => target.watch(changed),
      },
    };
  },
};
