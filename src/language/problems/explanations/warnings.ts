import { capacity, deck, type Explanation } from './explanation.js';

/** What is allowed, and mostly not meant. */
export const warnings = {
  'always-true': {
    rule: 'A condition must not always have the same result.',
    why: 'One that is always true asks nothing: mostly something else was meant.',
    wrong: deck(
      'state: { speed: { type: number, minimum: 0, default: 0 } }\nactions:\n  measure:\n    payload: { type: number, minimum: 0 }\n    requires:\n      - { that: "payload >= 0", otherwise: No wind. }\n    steps:\n      - set: { speed: "payload" }',
    ),
    right: deck(
      'state: { speed: { type: number, minimum: 0, default: 0 } }\nactions:\n  measure:\n    payload: { type: number, minimum: 0 }\n    steps:\n      - set: { speed: "payload" }',
    ),
  },
  'always-false': {
    rule: 'A condition must not always have the same result.',
    why: 'What follows one that is never true is never done.',
    wrong: deck(
      'state: { speed: { type: number, minimum: 0, default: 0 } }\nactions:\n  calm:\n    - when: "speed < 0"\n      then:\n        - set: { speed: 0 }',
    ),
    right: deck(
      'state: { speed: { type: number, minimum: 0, default: 0 } }\nactions:\n  calm:\n    - when: "speed < 1"\n      then:\n        - set: { speed: 0 }',
    ),
  },
  unused: {
    rule: 'Use what you define, or remove it.',
    why: 'Two names for one thing are often one that was renamed in some places only.',
    wrong: deck(`constants: { averageM: 4.5 }\n${capacity}\nderived: { full: "capacityM < 4.5" }`),
    right: deck(
      `constants: { averageM: 4.5 }\n${capacity}\nderived: { full: "capacityM < averageM" }`,
    ),
  },
  'never-stored': {
    rule: 'A field is stored by at least one step.',
    why: 'One that no step stores to is a constant, or the store of it was forgotten.',
    wrong: deck(
      'state: { capacityM: { type: number, default: 240 }, limitM: { type: number, default: 9 } }\nactions:\n  widen:\n    - set: { capacityM: "capacityM + limitM" }',
    ),
    right: deck(
      `constants: { limitM: 9 }\n${capacity}\nactions:\n  widen:\n    - set: { capacityM: "capacityM + limitM" }`,
    ),
  },
  'reaction-order': {
    rule: 'A reaction should not depend on what another store does after the same action.',
    why: 'Reactions run store by store, in the order of the schema. A reaction that reads what an earlier one stored gives another result when the stores change places, and nothing in it shows that.',
    wrong:
      'leeshore: 1\nstores:\n  wind:\n    state: { speed: { type: number, default: 0 } }\n    actions:\n      measure:\n        payload: number\n        steps:\n          - set: { speed: "payload" }\n  deck:\n    state: { gusts: { type: number, default: 0 } }\n    reacts:\n      - to: wind.measure\n        steps:\n          - set: { gusts: "gusts + 1" }\n  log:\n    state: { last: { type: number, default: 0 } }\n    reacts:\n      - to: wind.measure\n        steps:\n          - set: { last: "deck.gusts" }\n',
    right:
      'leeshore: 1\nstores:\n  wind:\n    state: { speed: { type: number, default: 0 } }\n    actions:\n      measure:\n        payload: number\n        steps:\n          - set: { speed: "payload" }\n  deck:\n    state: { gusts: { type: number, default: 0 } }\n    reacts:\n      - to: wind.measure\n        steps:\n          - set: { gusts: "gusts + 1" }\n  log:\n    state: { last: { type: number, default: 0 } }\n    reacts:\n      - to: wind.measure\n        steps:\n          - set: { last: "payload" }\n',
  },
  'flag-left-on': {
    rule: 'A flag that a task turns on is turned off however the run ends.',
    why: 'A flag that stays on after a failure is the commonest slip of all: the screen shows that something is loading for ever.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        start:\n          - set: { busy: true }\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload" }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        start:\n          - set: { busy: true }\n        finish:\n          - set: { busy: false, sailings: "result" }\n        fail:\n          - set: { busy: false }\n        cancel:\n          - set: { busy: false }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload" }\n',
  },
  'last-answer-wins': {
    rule: 'Answers that come side by side do not replace the same list.',
    why: 'Answers come in any order. The older one may come last, and overwrite the newer.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        overlap: parallel\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
  },
  'follows-itself': {
    rule: 'The answer of a task does not change what it follows.',
    why: 'Each answer leads to the next call, as long as answers differ.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        auto: { follows: "day" }\n        finish:\n          - set: { busy: false, sailings: "result", day: "result[0] ?? null" }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        auto: { follows: "day" }\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
  },
  'failure-refused': {
    rule: 'A reaction to a failure cannot be refused.',
    why: "The 'fail' steps and the reactions to them are kept together or not at all: the busy flag would stay on.",
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n  log:\n    state: { notes: { map: string } }\n    reacts:\n      - to: timetable.load.fail\n        steps:\n          - put: { in: notes, key: "error.message", value: "error.kind" }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n  log:\n    state: { notes: { list: string } }\n    reacts:\n      - to: timetable.load.fail\n        steps:\n          - append: { to: notes, value: "error.kind" }\n',
  },
  'repeats-end': {
    rule: "A task that repeats while a condition holds has no 'requires'.",
    why: 'A repeat that is refused ends the run. It starts again only when the condition becomes false and true again.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: { type: string, default: today }\n        operation: office.sailingsOn\n        auto: { while: "busy" }\n        every: 60000\n        requires:\n          - { that: "day !== null", otherwise: Which day? }\n        finish:\n          - set: { sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: { type: string, default: today }\n        operation: office.sailingsOn\n        auto: { while: "busy && day !== null" }\n        every: 60000\n        finish:\n          - set: { sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
  },
  'never-ends': {
    rule: 'A task that repeats can be stopped.',
    why: 'Otherwise it goes on after the screen that it serves is gone.',
    wrong:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        every: 60000\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n',
    right:
      'leeshore: 1\nservices: { office: { operations: { sailingsOn: { payload: string, result: { list: string } } } } }\nstores:\n  timetable:\n    state: { sailings: { list: string }, busy: { type: boolean, default: false }, day: { maybe: string } }\n    tasks:\n      load:\n        payload: string\n        operation: office.sailingsOn\n        every: 60000\n        finish:\n          - set: { busy: false, sailings: "result" }\n    actions:\n      show:\n        payload: string\n        steps:\n          - set: { day: "payload", busy: false }\n      leave:\n        - cancel: load\n',
  },
  'empty-step': {
    rule: 'A step does something.',
    why: 'An empty step has no effect. Often its content was lost while a schema was edited or written by a program.',
    wrong: deck(`${capacity}\nactions:\n  widen:\n    - set: {}\n    - set: { capacityM: 300 }`),
    right: deck(`${capacity}\nactions:\n  widen:\n    - set: { capacityM: 300 }`),
  },
  'may-divide-by-zero': {
    rule: 'What is stored is a finite number.',
    why: 'A division by 0 gives infinity or NaN, which JSON does not have: the action would be refused.',
    wrong: deck(
      'state: { lengthM: { type: number, default: 0 }, cars: { type: number, default: 0 } }\nactions:\n  share:\n    payload: number\n    steps:\n      - set: { cars: "payload", lengthM: "lengthM / payload" }',
    ),
    right: deck(
      'state: { lengthM: { type: number, default: 0 }, cars: { type: number, default: 0 } }\nactions:\n  share:\n    payload: { type: number, exclusiveMinimum: 0 }\n    steps:\n      - set: { cars: "payload", lengthM: "lengthM / payload" }',
    ),
  },
  'could-split': {
    rule: 'Fields that no action uses together can be in separate stores.',
    why: 'Separate stores are smaller, and can be generated, reset and watched one by one.',
    wrong: deck(
      'state: { a: { maybe: number }, b: { maybe: number }, c: { maybe: number }, d: { maybe: number } }\nactions:\n  one:\n    - set: { a: "b" }\n  two:\n    - set: { c: "d" }\n  rest:\n    - set: { b: 1 }\n    - set: { b: 2 }\n  last:\n    - set: { d: 1 }',
    ),
    right: deck(
      'state: { a: { maybe: number }, b: { maybe: number } }\nactions:\n  one:\n    - set: { a: "b", b: 1 }',
    ),
  },
  'stores-everything': {
    rule: 'An action does one thing.',
    why: 'One that stores to every field is hard to name, and hard to do in parts.',
    wrong: deck(
      'state: { a: { maybe: number }, b: { maybe: number }, c: { maybe: number }, d: { maybe: number } }\nactions:\n  all:\n    payload: number\n    steps:\n      - set: { a: "payload", b: "payload", c: "payload", d: "payload" }',
    ),
    right: deck(
      'state: { a: { maybe: number }, b: { maybe: number }, c: { maybe: number }, d: { maybe: number } }\nactions:\n  first:\n    payload: number\n    steps:\n      - set: { a: "payload", b: "d" }\n  second:\n    payload: number\n    steps:\n      - set: { c: "payload", d: "a" }',
    ),
  },
  'reset-in-parts': {
    rule: 'Fields that are reset together belong to one store.',
    why: 'Parts that are reset apart, by different actions, belong to different parts of the application.',
    wrong: deck(
      'state: { a: { maybe: number }, b: { maybe: number } }\nactions:\n  first:\n    - reset: [a]\n  second:\n    - reset: [b]\n  both:\n    - set: { a: 1, b: 1 }',
    ),
    right: deck(
      'state: { a: { maybe: number }, b: { maybe: number } }\nactions:\n  clear:\n    - reset: all\n  both:\n    - set: { a: 1, b: 1 }',
    ),
  },
  unread: {
    rule: 'Every field is read somewhere.',
    why: 'The application may show it. If it does not, nobody needs it.',
    wrong: deck(capacity),
    right: deck(`${capacity}\nactions:\n  widen:\n    - set: { capacityM: "capacityM + 1" }`),
  },
  'old-texts': {
    rule: 'What users have kept with the old application is not lost.',
    why: 'Their browsers hold it in the form in which the old code wrote it. The first change of the new store replaces it.',
    wrong: deck(
      `${capacity}\nsaved: { fields: [capacityM], key: deck, version: 1 }\nactions:\n  widen:\n    - set: { capacityM: "capacityM + 1" }`,
    ),
    right: deck(
      `${capacity}\nsaved:\n  fields: [capacityM]\n  key: deck\n  version: 1\n  old:\n    texts: { metres: deck-metres }\n    fields: { capacityM: "Number(old.metres ?? '240')" }\nactions:\n  widen:\n    - set: { capacityM: "capacityM + 1" }`,
    ),
  },
  'does-nothing': {
    rule: 'An action has at least one step.',
    why: 'It may be there for others to react to. If nothing does, it can go.',
    wrong: deck(`${capacity}\nactions:\n  depart: []`),
    right: deck(`${capacity}\nactions:\n  depart:\n    - reset: all`),
  },
} satisfies Readonly<Record<string, Explanation>>;
