import { describe, expect, test } from '@jest/globals';
import { instrument } from '../../../src/participants/branches/instrument.js';
import { WaysGone } from '../../../src/participants/branches/ways-gone.js';

/** What code gives with counters in it, and the ways that it went, as `line kind`. */
function run(text: string, ...args: readonly unknown[]) {
  const all = new WaysGone();
  const counted = all.count('old', 'old.ts', text, 'script');
  if (counted === undefined) throw new Error('it cannot be parsed');
  const names = Object.keys(counted.counters);
  const body = new Function(...names, 'args', counted.code) as (...all: unknown[]) => unknown;
  const counters: readonly unknown[] = Object.values(counted.counters);
  const result = body(...counters, args);
  const [code] = all.codes;
  const gone = (code?.ways ?? []).flatMap(({ at, kind }, i) =>
    all.added.includes((code?.from ?? 0) + i)
      ? [`${text.slice(0, at).split('\n').length} ${kind}`]
      : [],
  );
  return { result, gone, all };
}

describe('code with counters', () => {
  test.each([
    ['if (args[0]) return 1; else return 2;', [1, 2]],
    ['if (args[0]) return 1\nreturn 2', [1, 2]],
    ['if (args[0]) if (args[0] > 1) return 3; else return 1;\nreturn 2', [1, 2]],
    ['return args[0] ? { a: 1 }.a : 2', [1, 2]],
    ['return (args[0] && "yes") || "no"', ['yes', 'no']],
    ['const f = (a) => ({ a }); return f(args[0]).a', [1, 0]],
    ['const { a = 5 } = args[0] === 1 ? {} : { a: 2 }; return a', [5, 2]],
    [
      '"use strict"; return (function () { "use strict"; return this === undefined; })()',
      [true, true],
    ],
    ['let n = 0; for (const a of [1, 2]) n += a * args[0]; return n', [3, 0]],
    ['let n = 0; out: for (;;) { for (;;) { if (++n > 3) break out; } } return n', [4, 4]],
    ['switch (args[0]) { case 1: return "one"; default: return "other"; }', ['one', 'other']],
    ['try { if (args[0]) throw new Error("x"); return 0 } catch { return 1 }', [1, 0]],
    [
      'class A { #n = 0; add() { this.#n++; return this } get n() { return this.#n } }\nreturn new A().add().n',
      [1, 1],
    ],
    ['return [3, 1, 2].toSorted((a, b) => (args[0] ? a - b : b - a))[0]', [1, 3]],
    ['return args[0]?.toFixed?.(1) ?? "none"', ['1.0', '0.0']],
    ['const o = { f() { return this === o } }; return (args[0] || true) && o.f()', [true, true]],
    ['return `${args[0] ? "a" : "b"}`', ['a', 'b']],
    ['do { args[0]++ } while (args[0] < 5); return args[0]', [5, 5]],
  ])('does what it did: %s', (text, [withOne, withNothing]) => {
    expect(run(text, 1).result).toEqual(withOne);
    expect(run(text, 0).result).toEqual(withNothing);
  });

  test('counts both sides, whether or not there is code on both', () => {
    const text = 'if (args[0]) {\n  args[0];\n}\nreturn args[0] ?? 2';
    expect(run(text, 1).gone).toEqual(['1 condition true', '4 value given']);
    expect(run(text, undefined).gone).toEqual(['1 condition false', '4 value missing']);
  });

  test('notes the values that it compares with, and how near it came', () => {
    const text = 'const near = args[0].length > 3; return near || args[1] === "port"';
    const { all } = run(text, 'ab', 'x');
    expect(all.texts).toContain('port');
    expect(all.numbers).toContain(3);
    const [one, nearer] = [run(text, 'a', 'x'), run(text, 'ab', 'x')];
    expect(one.all.added).not.toEqual(nearer.all.added);
  });

  test('begins anew from what is known elsewhere', () => {
    const { all } = run('return args[0] ? 1 : 2', 1);
    const known = [...all.added];
    expect(known.length).toBeGreaterThan(0);
    all.restart(known);
    expect(all.added).toEqual([]);
  });

  test('code that cannot be parsed is left to those who run it', () => {
    expect(new WaysGone().count('old', 'old.ts', 'if (', 'script')).toBeUndefined();
    expect(() => instrument('if (', 'module')).toThrow(SyntaxError);
  });
});
