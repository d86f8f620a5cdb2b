/** How grave a problem is: only errors stop a stage; advice is given to those who ask for it. */
export type Severity = 'error' | 'warning' | 'advice';

/** What a code says: its message and hint, made from the parameters of the place where it was found. */
interface Entry<Params> {
  readonly severity: Severity;
  readonly message: (params: Params) => string;
  readonly hint: (params: Params) => string | undefined;
}

function entry<Params>(
  message: Entry<Params>['message'],
  hint: Entry<Params>['hint'] = () => undefined,
  severity: Severity = 'error',
): Entry<Params> {
  return { severity, message, hint };
}

/** "Did you mean ...?", where there is a near name. */
const meant = (near: string | undefined, otherwise?: string) =>
  near === undefined ? otherwise : `Did you mean '${near}'?`;

/** Every problem that can be found in a schema, by its stable code. The wording stands here and nowhere else. */
export const catalogue = {
  'not-yaml': entry<{ detail: string; hint?: string | undefined }>(
    ({ detail }) => `This is not valid YAML: ${detail}`,
    ({ hint = 'An expression goes in double quotes, with text inside it in single quotes.' }) =>
      hint,
  ),
  'not-a-schema': entry<{ what: string; use: string }>(
    ({ what }) => `This is ${what}, not a schema.`,
    ({ use }) => use,
  ),
  unquoted: entry<{ why: string; instead: string }>(
    ({ why }) => `${why.charAt(0).toUpperCase()}${why.slice(1)}.`,
    ({ instead }) => `Put it in quotes: ${instead}`,
  ),
  'no-space': entry<{ why: string; instead: string }>(
    ({ why }) => `${why.charAt(0).toUpperCase()}${why.slice(1)}.`,
    ({ instead }) => `Write a space: ${instead}`,
  ),
  'bad-escape': entry<{ escape: string }>(
    ({ escape }) => `'${escape}' is no escape in the double quotes of YAML.`,
    ({ escape }) =>
      escape === "\\'"
        ? 'In double quotes a single quote stands as it is. A text with one in it goes between backticks: "`it\'s full`".'
        : 'Write two backslashes for one.',
  ),
  'not-plain-yaml': entry<{ what: string }>(
    ({ what }) => `${what} cannot be used in a schema.`,
    () => 'If an expression starts here, put it in double quotes: "!full".',
  ),
  'no-such-file': entry<{ path: string }>(
    ({ path }) => `There is no file ${path}.`,
    () => "'use' names other schema files, relative to this one: [./wind.stores.yaml].",
  ),
  'wrong-structure': entry<{
    detail: string;
    near?: string | undefined;
    hint?: string | undefined;
  }>(
    ({ detail }) => detail,
    ({ near, hint }) => meant(near, hint),
  ),
  'not-attached': entry<{ store: string; name: string }>(
    ({ store }) => `The store '${store}' is lazy: it may not be attached when this is read.`,
    ({ store, name }) => `Say what holds without it: ${store}?.${name} ?? ...`,
  ),
  'bad-name': entry<{ name: string; why: string }>(
    ({ name, why }) => `'${name}' cannot be a name: ${why}.`,
    () => 'A name starts with a letter, goes on with letters and digits, and is no reserved word.',
  ),
  'name-taken': entry<{ name: string; by: string }>(
    ({ name, by }) => `'${name}' is already the name of ${by}.`,
    () => 'Give one of the two another name: two things under one name get mixed up.',
  ),
  'file-clash': entry<{ name: string; other: string }>(
    ({ name, other }) =>
      `'${name}' and '${other}' differ in case only: on some systems their files would be one.`,
    () => 'Give one of the two stores another name.',
  ),
  'unknown-name': entry<{ name: string; near?: string | undefined; textFits: boolean }>(
    ({ name }) => `There is nothing named '${name}' here.`,
    ({ name, near, textFits }) =>
      meant(near, textFits ? `If the text is meant, quote it twice: "'${name}'".` : undefined),
  ),
  'unknown-type': entry<{ name: string; near?: string | undefined }>(
    ({ name }) => `There is no type named '${name}'.`,
    ({ near }) => meant(near, "Define it under 'types', or use string, number, integer, boolean."),
  ),
  'unknown-keyword': entry<{ keyword: string; near?: string | undefined }>(
    ({ keyword }) => `'${keyword}' is no keyword of a type.`,
    ({ near }) => meant(near, 'Types are JSON Schema; the language reference lists its keywords.'),
  ),
  'bad-type': entry<{ detail: string; hint?: string | undefined }>(
    ({ detail }) => detail,
    ({ hint }) => hint,
  ),
  'circular-type': entry<{ ring: readonly string[] }>(
    ({ ring }) => `The type contains itself: ${ring.join(' -> ')}.`,
    () => 'Put a list, a dictionary or a maybe in between, so that a value can end.',
  ),
  'no-default': entry<{ name: string; type: string; example: string }>(
    ({ name, type }) => `'${name}' (${type}) has no default.`,
    ({ example }) =>
      `Say what it is at the start: { ${example} }. Only lists, dictionaries and maybes need none.`,
  ),
  'default-misfit': entry<{ name: string; type: string; detail: string }>(
    ({ name, type, detail }) => `The default of '${name}' is no ${type}: ${detail}.`,
    () => 'Change the default or the type.',
  ),
  'misplaced-default': entry<object>(
    () => `'default' stands directly under a field, a value or a payload only.`,
    () => 'Move it there, or take it out.',
  ),
  'not-an-expression': entry<{ detail: string }>(
    ({ detail }) => `This is not an expression: ${detail}`,
    () => `An expression is ECMAScript in double quotes; a text value is quoted twice: "'closed'".`,
  ),
  'not-in-language': entry<{ what: string; instead: string }>(
    ({ what }) => `${what} is not part of the expression language.`,
    ({ instead }) => instead,
  ),
  'type-mismatch': entry<{ wanted: string; got: string; where: string }>(
    ({ wanted, got, where }) => `${where} takes ${wanted}, but this is ${got}.`,
    ({ wanted, got }) =>
      wanted === 'a number' && got.startsWith('text') ? 'Convert it: Number(...).' : undefined,
  ),
  'text-arithmetic': entry<{ operator: string }>(
    ({ operator }) => `'${operator}' is for numbers, but this is text.`,
    () => 'Text from a form field is not a number; convert it where that is meant: Number(...).',
  ),
  'maybe-missing': entry<{ what: string; missing: string; where: string }>(
    ({ what, missing, where }) => `${what} may be ${missing}, and ${where} does not take that.`,
    ({ missing }) =>
      missing === 'absent'
        ? "Say what happens when there is none: '?? ...', a condition, or a 'requires'."
        : "Handle it first: '?? ...', '=== null ? ... : ...', or a 'requires'.",
  ),
  'identity-comparison': entry<{ operator: string; what: string }>(
    ({ operator, what }) =>
      `'${operator}' compares ${what} by identity, which differs between stores.`,
    () => 'Compare a key (a.id === b.id), or their values: same(a, b).',
  ),
  'never-equal': entry<{ left: string; right: string }>(
    ({ left, right }) => `${left} and ${right} are never equal.`,
    () => 'Compare values of one type.',
  ),
  'never-here': entry<object>(
    () => 'This can have no value here: the conditions around it exclude each other.',
    () => 'One of the conditions is not what was meant, or this part is never needed.',
  ),
  'no-such-property': entry<{ name: string; of: string; near?: string | undefined }>(
    ({ name, of }) => `${of} has no property '${name}'.`,
    ({ near }) => meant(near),
  ),
  'no-such-method': entry<{ name: string; of: string; near?: string | undefined }>(
    ({ name, of }) => `${of} has no method '${name}' in the expression language.`,
    ({ near }) => meant(near, 'The language reference lists the methods there are.'),
  ),
  'wrong-arguments': entry<{ name: string; wanted: string }>(
    ({ name, wanted }) => `'${name}' takes ${wanted}.`,
  ),
  'only-in-steps': entry<{ name: string }>(
    ({ name }) => `'${name}()' is for the steps, 'let' and nothing else.`,
    () => 'A derived value or a condition must give the same answer each time: store it in a step.',
  ),
  'not-a-path': entry<{ detail: string }>(
    ({ detail }) => `This is no place in the state: ${detail}`,
    () => "A path starts with a field of this store: 'hold', 'vehicles[payload.id].plate'.",
  ),
  'overlapping-paths': entry<{ first: string; second: string }>(
    ({ first, second }) => `'${first}' and '${second}' overlap.`,
    () => "Use two steps, or set the whole: which of the two should win can't be told.",
  ),
  'circular-action': entry<{ ring: readonly string[] }>(
    ({ ring }) => `${ring[0] ?? 'It'} could set itself off: ${ring.join(' -> ')}.`,
    () => 'Take one of the steps out of the ring, or do its work in place of running it.',
  ),
  'circular-start': entry<{ ring: readonly string[] }>(
    ({ ring }) => `${ring[0] ?? 'It'} starts itself at once: ${ring.join(' -> ')}.`,
    () => "Start the next one in 'finish', after an 'operation' or a 'wait'.",
  ),
  'starts-itself': entry<{ task: string; field: string }>(
    ({ task, field }) =>
      `'${task}' starts when '${field}' changes, and its 'start' steps change it.`,
    () =>
      'Follow something else, or store to another field: it would start itself again and again.',
  ),
  'circular-value': entry<{ ring: readonly string[] }>(
    ({ ring }) => `${ring[0] ?? 'It'} depends on itself: ${ring.join(' -> ')}.`,
    () => 'Compute one of them from the fields, or from what it is given, alone.',
  ),
  'always-true': entry<{ what: string }>(
    ({ what }) => `${what} is always true here.`,
    () =>
      'Take it out, or ask what was meant: the types and the conditions before it leave nothing to ask.',
    'warning',
  ),
  'always-false': entry<{ what: string }>(
    ({ what }) => `${what} is never true here.`,
    () => 'Take it out, or ask what was meant: the types and the conditions before it exclude it.',
    'warning',
  ),
  unused: entry<{ what: string; name: string }>(
    ({ what, name }) => `Nothing uses ${what} '${name}'.`,
    () => 'Take it out, or use it: was a name changed in one place only?',
    'warning',
  ),
  'never-stored': entry<{ name: string; store: string }>(
    ({ name, store }) => `No step of '${store}' stores to '${name}': it never changes.`,
    () => "Make it a constant, or store to it: is there a 'set' with another name?",
    'warning',
  ),
  'reaction-order': entry<{ store: string; by: string; field: string; action: string }>(
    ({ store, by, field, action }) =>
      `'${store}' reads '${field}' here, which '${by}' has just changed in its own reaction to '${action}'.`,
    ({ store, by }) =>
      `Reactions run in the order of the stores: if '${store}' stood before '${by}', it would read the old value. Compute it from the payload, or do both in one reaction.`,
    'warning',
  ),
  'flag-left-on': entry<{ task: string; field: string; moments: string }>(
    ({ task, field, moments }) => `'${task}' turns '${field}' on, and ${moments} leaves it on.`,
    ({ field }) => `Put it back there too: set: { ${field.split('.')[1] ?? field}: false }.`,
    'warning',
  ),
  'last-answer-wins': entry<{ task: string; field: string }>(
    ({ task, field }) =>
      `Runs of '${task}' go on side by side, and each answer replaces '${field}': the last one wins, whichever was asked first.`,
    () => "Use 'overlap: latest', or add to the list in place of replacing it.",
    'warning',
  ),
  'follows-itself': entry<{ task: string; field: string }>(
    ({ task, field }) =>
      `'${task}' starts when '${field}' changes, and its answer changes it: it may go on for ever.`,
    () => 'Store the answer to a field that it does not follow.',
    'warning',
  ),
  'failure-refused': entry<{ task: string; store: string }>(
    ({ task, store }) =>
      `This reaction of '${store}' to the failure of '${task}' may be refused: then nothing of the 'fail' steps is kept.`,
    () => "Use steps that cannot be refused: 'update' with 'where', a 'when' around them.",
    'warning',
  ),
  'repeats-end': entry<{ task: string }>(
    ({ task }) =>
      `'${task}' repeats while a condition holds, but ends for good when its 'requires' refuses once.`,
    () => "Move the requirement into 'while'.",
    'warning',
  ),
  'never-ends': entry<{ task: string }>(
    ({ task }) => `No step cancels '${task}', which repeats for ever.`,
    () =>
      'Cancel it in some action, or let it go on while a condition holds: auto: { while: ... }.',
    'warning',
  ),
  'empty-step': entry<{ kind: string }>(
    ({ kind }) => `This '${kind}' is empty: the step does nothing.`,
    () => 'Fill it in, or delete it.',
    'warning',
  ),
  'may-divide-by-zero': entry<{ what: string }>(
    ({ what }) =>
      `'${what}' may be 0, and then what is stored is no finite number: the action is refused.`,
    ({ what }) => `Ask first: ${what} === 0 ? ... : ..., or give its type a bound above 0.`,
    'warning',
  ),
  'could-split': entry<{ store: string; parts: readonly string[] }>(
    ({ store, parts }) =>
      `'${store}' has parts that nothing touches together: ${parts.join(' | ')}.`,
    () => 'Separate stores would be smaller, and whoever watches one hears nothing of the other.',
    'advice',
  ),
  'stores-everything': entry<{ action: string }>(
    ({ action }) => `'${action}' stores to every field of its store.`,
    () => 'Is it several actions in one? Smaller ones can be run together: run: ...',
    'advice',
  ),
  'reset-in-parts': entry<{ store: string; one: string; other: string }>(
    ({ store, one, other }) =>
      `'${one}' and '${other}' reset different parts of '${store}', each without the other.`,
    () => 'Two stores could be reset as wholes.',
    'advice',
  ),
  unread: entry<{ what: string; name: string }>(
    ({ what, name }) => `No expression reads the ${what} '${name}'.`,
    () => 'Nothing is wrong if the application shows it; else it can go.',
    'advice',
  ),
  'old-texts': entry<{ key: string }>(
    ({ key }) =>
      `Nothing says how what the old application has kept is read: '${key}' is written over at the first change.`,
    () => "Say it with 'old' under 'saved'. Nothing is wrong if nothing was kept, or in this form.",
    'advice',
  ),
  'does-nothing': entry<{ name: string }>(
    ({ name }) => `The action '${name}' has no steps.`,
    () => 'Nothing is wrong if it is there to be reacted to; else it can go.',
    'advice',
  ),
} as const;

/** A problem's stable code. */
export type Code = keyof typeof catalogue;

/** The parameters that a code's message is made from. */
export type ParamsOf<C extends Code> = Parameters<(typeof catalogue)[C]['message']>[0];
