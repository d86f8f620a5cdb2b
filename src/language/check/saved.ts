import { nearest } from '../../base/suggest.js';
import type { Store } from '../../model/application.js';
import type { OldSaved, OlderVersion, Saved } from '../../model/saved.js';
import { unknown } from '../../model/types.js';
import type { Problems } from '../problems/problem.js';
import { entriesOf, plainOf, textOf, valueOf, type Located } from '../syntax/located.js';
import { chosenFields } from './chosen-fields.js';
import type { StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';

/** Checks the `saved` section of a store. */
export function lowerSaved(store: StoreDeclaration, cx: Expressions): Saved | undefined {
  if (store.saved === undefined) return undefined;
  const { body, span } = store.saved;
  const fields = chosenFields(store, valueOf(body, 'fields'), cx.problems);
  const version = valueOf(body, 'version');
  const old = oldSaved(store, body, fields, cx);
  return {
    fields,
    key: textOf(valueOf(body, 'key')) ?? store.name,
    version: version === undefined ? undefined : (plainOf(version) as number),
    from: olderVersions(store, body, fields, cx),
    ...(old && { old }),
    span,
  };
}

/** What was kept before there was a schema. Only a version tells what is kept now from that. */
function oldSaved(
  store: StoreDeclaration,
  body: Located,
  saved: readonly string[],
  cx: Expressions,
): OldSaved | undefined {
  const old = entriesOf(body).find(({ key }) => key === 'old');
  if (old === undefined) return undefined;
  if (valueOf(body, 'version') === undefined)
    cx.problems.add('wrong-structure', old.keySpan, {
      detail: "'old' needs a 'version', which tells what is kept now from what was kept before.",
    });
  const named = (part: 'keys' | 'texts') =>
    entriesOf(valueOf(old.value, part)).map(({ key: name, value }) => ({
      name,
      key: textOf(value) ?? name,
      isText: part === 'texts',
    }));
  const keys = [...named('keys'), ...named('texts')];
  if (keys.length === 0)
    cx.problems.add('wrong-structure', old.keySpan, {
      detail: "'old' lacks 'keys' or 'texts', which say where it was kept.",
    });
  return {
    keys,
    fields: madeFields(store, valueOf(old.value, 'fields'), saved, cx),
  };
}

/** How earlier versions become the present one. Expressions read what was saved as `old`, which has no type. */
function olderVersions(
  store: StoreDeclaration,
  body: Located,
  saved: readonly string[],
  cx: Expressions,
): readonly OlderVersion[] {
  const version = valueOf(body, 'version');
  const present = version === undefined ? undefined : (plainOf(version) as number);
  return entriesOf(valueOf(body, 'from')).map(({ key, keySpan, value }) => {
    if (present === undefined || Number(key) >= present) {
      const detail =
        present === undefined
          ? "'from' needs a 'version', the version that is saved now."
          : `'from' is for versions before the present one, which is ${present}.`;
      cx.problems.add('wrong-structure', keySpan, { detail });
    }
    return { version: Number(key), fields: madeFields(store, value, saved, cx) };
  });
}

/** Fields that are saved, each made by an expression that reads `old`. */
function madeFields(
  store: StoreDeclaration,
  body: Located | undefined,
  saved: readonly string[],
  cx: Expressions,
): OlderVersion['fields'] {
  return entriesOf(body).flatMap((entry) => {
    const read = cx.readOf('old', unknown, entry.value);
    if (saved.includes(entry.key)) return [{ field: entry.key, value: read }];
    const known = store.fields.has(entry.key);
    if (known)
      cx.problems.add('wrong-structure', entry.keySpan, {
        detail: `'${entry.key}' is not among the fields that are saved.`,
      });
    else
      cx.problems.add('unknown-name', entry.keySpan, {
        name: entry.key,
        near: nearest(entry.key, saved),
        textFits: false,
      });
    return [];
  });
}

/** Refuses two stores that are saved under the same key. */
export function refuseSharedKeys(stores: readonly Store[], problems: Problems): void {
  const first = new Map<string, Store>();
  for (const store of stores) {
    if (store.saved === undefined) continue;
    const other = first.get(store.saved.key);
    if (other?.saved === undefined) first.set(store.saved.key, store);
    else
      problems.add(
        'wrong-structure',
        store.saved.span,
        {
          detail: `'${store.name}' is saved under '${store.saved.key}', as '${other.name}' is: each would overwrite the other.`,
          hint: "Give one of them a 'key' of its own.",
        },
        [{ message: 'the other', span: other.saved.span }],
      );
  }
}
