// A few lines that many projects have somewhere: values that can be watched, and values made of others.
type Listener<T> = (value: T, old: T) => void;

export class Cell<T> {
  private listeners = new Set<Listener<T>>();
  constructor(private value: T) {}
  get(): T { return this.value; }
  set(next: T) {
    if (Object.is(next, this.value)) return;
    const old = this.value;
    this.value = next;
    this.listeners.forEach((listener) => listener(next, old));
  }
  change(f: (value: T) => T) { this.set(f(this.value)); }
  watch(listener: Listener<T>) { this.listeners.add(listener); return () => { this.listeners.delete(listener); }; }
}

export function made<T>(from: Cell<any>[], make: () => T): { get(): T } {
  let known: { value: T } | undefined;
  for (const cell of from) cell.watch(() => { known = undefined; });
  return { get: () => (known ??= { value: make() }).value };
}
