import { computed, inject, InjectionToken, signal } from '@angular/core';

export type Kind = 'cat' | 'dog' | 'owl';
export interface Patient { id: string; name: string; kind: Kind; dose: number }
export interface Lab { values(id: string, signal: AbortSignal): Promise<Record<string, number>> }

export const LAB = new InjectionToken<Lab>('lab');

/** Provided in root; components inject it. */
export class WardService {
  private readonly _patients = signal<readonly Patient[]>([]);
  private readonly _selected = signal<string | null>(null);
  private readonly _values = signal<Record<string, number>>({});
  private readonly _asking = signal(false);
  private asked: AbortController | null = null;
  private count = 0;
  private readonly lab = inject(LAB);

  readonly kind = signal<Kind | null>(null);
  readonly patients = this._patients.asReadonly();
  readonly selected = this._selected.asReadonly();
  readonly values = this._values.asReadonly();
  readonly asking = this._asking.asReadonly();
  readonly shown = computed(() => {
    const kind = this.kind();
    return this.patients().filter((p) => kind === null || p.kind === kind).map((p) => p.name);
  });
  readonly current = computed(() => this.patients().find((p) => p.id === this.selected())?.name ?? null);
  readonly doses = computed(() => this.patients().reduce((sum, p) => sum + p.dose, 0));

  takeIn(name: string, kind: Kind): boolean {
    if (!name.trim() || this.patients().length >= 6) return false;
    this._patients.update((all) => [...all, { id: `p${++this.count}`, name: name.trim(), kind, dose: 0 }]);
    return true;
  }

  select(id: string): boolean {
    if (!this.patients().some((p) => p.id === id)) return false;
    this._selected.set(id);
    this._values.set({});
    this.forget();
    return true;
  }

  give(amount: number): boolean {
    const id = this.selected();
    const patient = this.patients().find((p) => p.id === id);
    if (!patient || patient.dose + amount > 20) return false;
    this._patients.update((all) => all.map((p) => (p.id === id ? { ...p, dose: p.dose + amount } : p)));
    return true;
  }

  discharge(): boolean {
    const id = this.selected();
    if (id === null) return false;
    this._patients.update((all) => all.filter((p) => p.id !== id));
    this._selected.set(null);
    this._values.set({});
    this.forget();
    return true;
  }

  async ask() {
    const id = this.selected();
    if (id === null) return false;
    this.forget();
    const own = (this.asked = new AbortController());
    this._asking.set(true);
    try {
      const values = await this.lab.values(id, own.signal);
      if (this.asked === own) this._values.set(values);
    } catch {
      // the old values stay
    }
    if (this.asked === own) this.forget(false);
    return true;
  }

  private forget(abort = true) {
    if (abort) this.asked?.abort();
    this.asked = null;
    this._asking.set(false);
  }
}
