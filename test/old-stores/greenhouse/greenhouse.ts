import { Cell, made } from './cells';

export type Vent = 'shut' | 'half' | 'open';
export type Bed = { plant: string; moisture: number };

export function greenhouse() {
  const beds = new Cell<Map<string, Bed>>(new Map());
  const target = new Cell(20);
  const warmth = new Cell(18);
  const vent = new Cell<Vent>('shut');
  const manual = new Cell(false);
  const log = new Cell<string[]>([]);

  const note = (line: string) => log.change((lines) => [...lines, line].slice(-5));

  // the vents follow the warmth, not the target: a new target counts with the next measurement
  const follow = (degrees: number) => {
    if (manual.get()) return;
    const over = degrees - target.get();
    vent.set(over > 5 ? 'open' : over > 2 ? 'half' : 'shut');
  };

  return {
    beds, target, warmth, vent, manual, log,
    dry: made([beds], () => [...beds.get()].filter(([, b]) => b.moisture < 30).map(([name]) => name).sort()),
    tooWarm: made([warmth, target], () => warmth.get() > target.get() + 2),
    label: made([warmth, target, manual], () => `${warmth.get().toFixed(1)} of ${target.get()}${manual.get() ? ' (by hand)' : ''}`),
    measure(degrees: number) {
      warmth.set(degrees);
      follow(degrees);
    },
    turn(to: Vent) {
      if (!manual.get()) return false;
      vent.set(to);
      return true;
    },
    plant(bed: string, plant: string) {
      beds.change((all) => new Map(all).set(bed, { plant, moisture: 50 }));
      note(`${plant} in ${bed}`);
    },
    water(bed: string, by: number) {
      const now = beds.get().get(bed);
      if (now === undefined) return false;
      beds.change((all) => new Map(all).set(bed, { ...now, moisture: Math.min(100, now.moisture + by) }));
      return true;
    },
    dryOut() {
      beds.change((all) => new Map([...all].map(([name, b]) => [name, { ...b, moisture: Math.max(0, b.moisture - 15) }])));
    },
    clear(bed: string) {
      const gone = beds.get().get(bed);
      if (gone === undefined) return false;
      beds.change((all) => { const rest = new Map(all); rest.delete(bed); return rest; });
      note(`${gone.plant} out of ${bed}`);
      return true;
    },
  };
}
