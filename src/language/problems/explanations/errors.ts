import { capacity, deck, hold, vehicle, vehicles, type Explanation } from './explanation.js';

const tariff = '  tariff: { lazy: true, state: { perM: { type: number, default: 2 } } }\n';

/** What stops a schema from being used. */
export const errors = {
  'not-yaml': {
    rule: 'A schema file is YAML 1.2; JSON is YAML too.',
    why: 'What cannot be read cannot be checked. One problem is reported, since the ones after it are mostly its consequences.',
    wrong: 'leeshore: 1\nstores: { deck: {\n',
    right: deck(capacity),
  },
  'not-a-schema': {
    rule: 'check, generate and compare take schema files.',
    why: 'Logs and scripts are written by Leeshore too, and other commands read them.',
    wrong: '{ "leeshoreLog": 1 }\n',
    right: deck(capacity),
  },
  unquoted: {
    rule: 'Write an expression in double quotes, and text inside it in single quotes.',
    why: "Many signs of expressions mean something else to YAML: '!' a tag, '*' an alias, ': ' a key, ' #' a comment, and a comma or bracket inside '{ }' ends the value. Some of it goes wrong without a sound.",
    wrong: deck(`${capacity}\nderived:\n  size: capacityM > 100 ? 2 : 1`),
    right: deck(`${capacity}\nderived:\n  size: "capacityM > 100 ? 2 : 1"`),
  },
  'no-space': {
    rule: 'Put a space after the colon of a key.',
    why: "Without it YAML takes '{ type:number }' for a key of that name, with no value.",
    wrong: deck('state: { capacityM: { type:number, default: 240 } }'),
    right: deck(capacity),
  },
  'bad-escape': {
    rule: 'In double quotes a backslash starts an escape of YAML.',
    why: 'YAML has no escape for a single quote, and does not need one: in double quotes it stands as it is.',
    wrong: deck(`${hold}\nderived:\n  label: "hold ?? 'it\\'s open'"`),
    right: deck(`${hold}\nderived:\n  label: "hold ?? \`it's open\`"`),
  },
  'not-plain-yaml': {
    rule: 'A schema is plain data: no tags, no anchors, no aliases.',
    why: 'Tags change what a value is, and aliases let a small file grow beyond measure. Neither says anything about stores.',
    wrong: deck('state: { capacityM: { type: number, default: !!int 240 } }'),
    right: deck(capacity),
  },
  'no-such-file': {
    rule: "'use' lists schema files, relative to the file that has it.",
    why: 'Definitions that are not read would be missed in other places, where nobody would look for the reason.',
    wrong: `use: [./wind.stores.yaml]\n${deck(capacity)}`,
    right: deck(capacity),
  },
  'wrong-structure': {
    rule: 'A file has only the keys of the format, with values of the right kind.',
    why: 'An unknown key is usually a typo. It is never ignored.',
    wrong: deck(`${capacity}\naction:\n  clear:\n    - reset: all`),
    right: deck(`${capacity}\nactions:\n  clear:\n    - reset: all`),
  },
  'not-attached': {
    rule: 'What is read of a lazy store from another one is read with ?. .',
    why: 'Until it is attached it is null, and an action that reads a property of null breaks.',
    wrong: `${deck(`${capacity}\nderived: { fee: "capacityM * tariff.perM" }`)}${tariff}`,
    right: `${deck(`${capacity}\nderived: { fee: "capacityM * (tariff?.perM ?? 0)" }`)}${tariff}`,
  },
  'bad-name': {
    rule: 'A name is an identifier that is not a reserved word or a property that every object has.',
    why: 'Names become names in code, in four styles; those of Object.prototype would be found where nobody put them.',
    wrong: deck('state: { class: { maybe: string } }'),
    right: deck('state: { vehicleClass: { maybe: string } }'),
  },
  'name-taken': {
    rule: 'Within its scope a name has one meaning.',
    why: 'One name for two things is the commonest slip of all when an application is ported.',
    wrong: deck(`${capacity}\nderived: { capacityM: "240" }`),
    right: deck(`${capacity}\nderived: { capacityFt: "capacityM * 3.28" }`),
  },
  'file-clash': {
    rule: 'Names of stores must differ in more than upper and lower case.',
    why: 'Each store has a file of its own. File systems of several common computers do not tell case apart, so one of the two would overwrite the other there.',
    wrong:
      'leeshore: 1\nstores:\n  deck:\n    state: { a: { maybe: number } }\n  Deck:\n    state: { b: { maybe: number } }\n',
    right:
      'leeshore: 1\nstores:\n  deck:\n    state: { a: { maybe: number } }\n  lowerDeck:\n    state: { b: { maybe: number } }\n',
  },
  'unknown-name': {
    rule: 'A bare name is a field, a constant or a derived value of the same store, a function, or a local; other stores are named: wind.speed.',
    why: 'A key that is registered under one name and read under another gives undefined at run time, and a store that seems to work.',
    wrong: deck(`${capacity}\nderived: { halfM: "capacty / 2" }`),
    right: deck(`${capacity}\nderived: { halfM: "capacityM / 2" }`),
  },
  'unknown-type': {
    rule: "A type is string, number, integer, boolean, null, or a name under 'types'.",
    why: 'Types are what everything else is checked against.',
    wrong: deck('state: { lane: { maybe: Lane } }'),
    right: deck('state: { lane: { maybe: Lane } }', 'Lane: { enum: [port, starboard] }'),
  },
  'unknown-keyword': {
    rule: 'A type has the keywords of JSON Schema that the reference lists, and the short forms.',
    why: 'A keyword that is not understood is refused by name: ignoring it would let values pass that were meant to be kept out.',
    wrong: deck('state: { plate: { type: string, pattern: x, default: x } }'),
    right: deck('state: { plate: { type: string, minLength: 1, default: x } }'),
  },
  'bad-type': {
    rule: 'The keywords of a type fit together, and have values of the right kind.',
    why: 'A type that says two things at once, or none, says nothing about which values fit.',
    wrong: deck("state: { plate: { type: string, minLength: -1, default: '' } }"),
    right: deck("state: { plate: { type: string, minLength: 0, default: '' } }"),
  },
  'circular-type': {
    rule: 'A type contains itself only behind a list, a dictionary, a maybe or an optional property.',
    why: 'Else no value of it could ever end.',
    wrong: deck('state: { berth: { maybe: Berth } }', 'Berth: { fields: { next: Berth } }'),
    right: deck(
      'state: { berth: { maybe: Berth } }',
      'Berth: { fields: { next: { maybe: Berth } } }',
    ),
  },
  'no-default': {
    rule: 'Every field has a default. Lists, dictionaries and maybes may leave it out: [], {}, null.',
    why: 'A state without a start would be undefined until someone happens to store to it.',
    wrong: deck('state: { capacityM: number }'),
    right: deck(capacity),
  },
  'default-misfit': {
    rule: 'A default fits its own type, as Ajv judges it.',
    why: 'Else the very first state would be one that no action may store.',
    wrong: deck('state: { capacityM: { type: number, minimum: 0, default: -1 } }'),
    right: deck('state: { capacityM: { type: number, minimum: 0, default: 0 } }'),
  },
  'misplaced-default': {
    rule: "Put 'default' directly under a field, a value or a payload.",
    why: 'Deeper in a type it would have no effect: values are stored whole.',
    wrong: deck('state: { box: { maybe: { fields: { n: { type: number, default: 1 } } } } }'),
    right: deck('state: { box: { maybe: { fields: { n: number } } } }'),
  },
  'not-an-expression': {
    rule: 'An expression is one ECMAScript expression.',
    why: 'It is parsed by the rules of the language, and means what it means there.',
    wrong: deck(`${capacity}\nderived: { halfM: "capacityM / / 2" }`),
    right: deck(`${capacity}\nderived: { halfM: "capacityM / 2" }`),
  },
  'not-in-language': {
    rule: 'Expressions have no side effects, no loops, and nothing that differs from machine to machine.',
    why: 'The same expression runs in four styles, and in a checker: it must always give the same.',
    wrong: deck(`${hold}\nderived: { free: "hold == null" }`),
    right: deck(`${hold}\nderived: { free: "hold === null" }`),
  },
  'type-mismatch': {
    rule: 'A value has the type that its place requires.',
    why: 'A payload whose shape has changed is found here, not when somebody clicks.',
    wrong: deck(`${capacity}\nactions:\n  shrink:\n    - set: { capacityM: "true" }`),
    right: deck(`${capacity}\nactions:\n  shrink:\n    - set: { capacityM: "capacityM / 2" }`),
  },
  'text-arithmetic': {
    rule: 'Arithmetic is for numbers. Convert text explicitly: Number(text).',
    why: "A form field gives text: '2' * 3 is 6 and '2' + 3 is '23', and neither says so.",
    wrong: deck(
      `${capacity}\nactions:\n  widen:\n    payload: string\n    steps:\n      - set: { capacityM: "capacityM + payload" }`,
    ),
    right: deck(
      `${capacity}\nactions:\n  widen:\n    payload: number\n    accepts: text\n    steps:\n      - set: { capacityM: "capacityM + payload" }`,
    ),
  },
  'maybe-missing': {
    rule: 'A value that may be null or absent is handled before it is used.',
    why: 'What find gives, an optional property and an empty field are missing sooner or later.',
    wrong: deck(`${hold}\nderived: { size: "hold.length" }`),
    right: deck(`${hold}\nderived: { size: "hold === null ? 0 : hold.length" }`),
  },
  'identity-comparison': {
    rule: 'Lists and objects are compared by a key, or by value with same(a, b).',
    why: "'===' asks whether two are the same object, and that differs from style to style.",
    wrong: deck(`${vehicles}\nderived: { none: "vehicles === []" }`, vehicle),
    right: deck(`${vehicles}\nderived: { none: "vehicles.length === 0" }`, vehicle),
  },
  'never-equal': {
    rule: 'Compare only values that can be equal.',
    why: 'One of the values is misspelled, or its type has changed.',
    wrong: deck(
      `state: { lane: { enum: [port, starboard], default: port } }\nderived: { left: "lane === 'prot'" }`,
    ),
    right: deck(
      `state: { lane: { enum: [port, starboard], default: port } }\nderived: { left: "lane === 'port'" }`,
    ),
  },
  'never-here': {
    rule: 'All code must be reachable.',
    why: 'The surrounding conditions exclude each other, so this code never runs: one of them is wrong.',
    wrong: deck(
      "state: { lane: { enum: [port, starboard], default: port } }\nderived: { mark: \"lane !== 'port' && lane !== 'starboard' ? lane.at(0) ?? '' : ''\" }",
    ),
    right: deck(
      "state: { lane: { enum: [port, starboard], default: port } }\nderived: { mark: \"lane !== 'port' ? lane.at(0) ?? '' : ''\" }",
    ),
  },
  'no-such-property': {
    rule: 'Only properties of the type can be read or stored.',
    why: 'A place that was missed when something was renamed is found here.',
    wrong: deck(`${vehicles}\nderived: { sizes: "vehicles.map(v => v.length)" }`, vehicle),
    right: deck(`${vehicles}\nderived: { sizes: "vehicles.map(v => v.lengthM)" }`, vehicle),
  },
  'no-such-method': {
    rule: 'Only the methods listed in the reference can be called: they are pure, and the same everywhere.',
    why: 'What changes a list in place would change the state behind the back of whoever watches it.',
    wrong: deck(`${vehicles}\nderived: { sorted: "vehicles.sort()" }`, vehicle),
    right: deck(`${vehicles}\nderived: { sorted: "sortBy(vehicles, v => v.lengthM)" }`, vehicle),
  },
  'wrong-arguments': {
    rule: 'A call passes the arguments that the function, method or derived value takes.',
    why: 'toSorted() without a comparator, for one, would order numbers as text: 10 before 9.',
    wrong: deck('state: { gusts: { list: number } }\nderived: { ordered: "gusts.toSorted()" }'),
    right: deck(
      'state: { gusts: { list: number } }\nderived: { ordered: "gusts.toSorted((a, b) => a - b)" }',
    ),
  },
  'only-in-steps': {
    rule: "newId(), now() and random() are for steps and 'let'.",
    why: 'A derived value or a condition must give the same as long as the state is the same.',
    wrong: deck(`${capacity}\nderived: { late: "now() > 0" }`),
    right: deck('state: { at: { maybe: number } }\nactions:\n  mark:\n    - set: { at: "now()" }'),
  },
  'not-a-path': {
    rule: 'Steps store to a path: a field of their own store, then .name and [key].',
    why: 'Other stores have their own actions, to be run or reacted to; derived values follow by themselves.',
    wrong: deck(
      `${capacity}\nderived: { halfM: "capacityM / 2" }\nactions:\n  halve:\n    - set: { halfM: 1 }`,
    ),
    right: deck(
      `${capacity}\nderived: { halfM: "capacityM / 2" }\nactions:\n  halve:\n    - set: { capacityM: "halfM" }`,
    ),
  },
  'overlapping-paths': {
    rule: "The paths of one 'set' do not overlap.",
    why: 'Which of the two should win cannot be told.',
    wrong: deck(
      'state: { box: { type: object, properties: { n: number }, required: [n], default: { n: 0 } } }\nactions:\n  fill:\n    - set: { box: { n: 1 }, box.n: 2 }',
    ),
    right: deck(
      'state: { box: { type: object, properties: { n: number }, required: [n], default: { n: 0 } } }\nactions:\n  fill:\n    - set: { box.n: 2 }',
    ),
  },
  'circular-action': {
    rule: "No action sets itself off, through 'run' and 'reacts'.",
    why: 'An effect that calls itself never comes to an end.',
    wrong: deck(
      `${capacity}\nactions:\n  close:\n    - run: clear\n  clear:\n    - reset: all\n    - run: close`,
    ),
    right: deck(`${capacity}\nactions:\n  close:\n    - run: clear\n  clear:\n    - reset: all`),
  },
  'circular-start': {
    rule: 'A task does not start itself at once.',
    why: 'Each start would be followed by the next, without an end.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        start:\n          - start: load\n            payload: "payload"\n        finish:\n          - set: { sailings: "result", busy: true, day: "payload" }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        finish:\n          - set: { sailings: "result", busy: true, day: "payload" }\n',
  },
  'starts-itself': {
    rule: "What a task follows is not changed by its own 'start' steps.",
    why: 'Each start would change what it follows, and so lead to the next.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        auto: { follows: "day" }\n        start:\n          - set: { day: "payload.trim()", busy: true }\n        finish:\n          - set: { busy: false, sailings: "result" }\n        fail:\n          - set: { busy: false }\n        cancel:\n          - set: { busy: false }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        auto: { follows: "day" }\n        start:\n          - set: { busy: true }\n        finish:\n          - set: { busy: false, sailings: "result" }\n        fail:\n          - set: { busy: false }\n        cancel:\n          - set: { busy: false }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload" }\n',
  },
  'circular-value': {
    rule: 'No derived value and no function depends on itself.',
    why: 'There would be no place to begin.',
    wrong: deck(`${capacity}\nderived: { freeM: "capacityM - usedM", usedM: "capacityM - freeM" }`),
    right: deck(`${capacity}\nderived: { freeM: "capacityM - usedM", usedM: "10" }`),
  },
} satisfies Readonly<Record<string, Explanation>>;
