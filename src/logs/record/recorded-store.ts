import type { Recorder } from './recorder.js';

export interface StoreSettings {
  /** Stands before the names of its methods in the log, as `desk.takeOver`: for applications with several stores. */
  readonly name?: string;
  /** Methods that are no lines: questions, and `subscribe` or the like. */
  readonly leaveOut?: readonly string[];
}

type Member = (...args: never[]) => unknown;

/** A store whose methods are recorded when they are called from outside. */
export function recordedStore<Store extends object>(
  recorder: Recorder,
  store: Store,
  { name, leaveOut = [] }: StoreSettings,
): Store {
  const made = new Map<Member, Member>();
  const nameOf = (key: string) => (name === undefined ? key : `${name}.${key}`);
  const bound = (key: string, member: Member): Member => {
    const known = made.get(member);
    if (known !== undefined) return known;
    const own: Member = (...args) => member.apply(store, args);
    const given = leaveOut.includes(key) ? own : recorder.wrapped(nameOf(key), own);
    made.set(member, given);
    return given;
  };
  if (Object.isFrozen(store)) return frozenCopy(store, bound);
  return new Proxy(store, {
    get(target, key) {
      const value: unknown = Reflect.get(target, key);
      if (!isMember(value) || typeof key !== 'string' || key === 'constructor') return value;
      return bound(key, value);
    },
    set(target, key, value: unknown) {
      if (typeof key !== 'string' || leaveOut.includes(key)) return Reflect.set(target, key, value);
      return recorder.call(nameOf(key), [value], () => Reflect.set(target, key, value));
    },
  });
}

const isMember = (value: unknown): value is Member => typeof value === 'function';

/** What is frozen must be handed out as it is: its members are recorded in a copy. */
function frozenCopy<Store extends object>(
  store: Store,
  bound: (key: string, member: Member) => Member,
): Store {
  const members = Object.entries(Object.getOwnPropertyDescriptors(store)).map(
    ([key, described]) => {
      const value: unknown = described.value;
      return [key, isMember(value) ? { ...described, value: bound(key, value) } : described];
    },
  );
  const copy: unknown = Object.create(
    Object.getPrototypeOf(store) as object | null,
    Object.fromEntries(members) as PropertyDescriptorMap,
  );
  return Object.freeze(copy as Store);
}
