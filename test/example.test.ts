import { beforeAll, expect, test } from '@jest/globals';
import type { Application } from '../src/model/application.js';
import { allSteps } from '../src/model/step-kinds.js';
import type { Type } from '../src/model/types.js';
import { ferryText, modelOf } from './helpers.js';

let ferry: Application;
beforeAll(async () => {
  ferry = await modelOf(ferryText);
});

test('the example uses every step', () => {
  const steps = ferry.stores.flatMap((store) =>
    [...store.actions, ...store.reactions].flatMap((doing) => allSteps(doing.steps)),
  );
  const kinds = new Set(
    steps.map((step) => (step.kind === 'add' ? placeOf(step.place) : step.kind)),
  );
  expect([...kinds].sort()).toEqual([
    'drop',
    'end',
    'let',
    'middle',
    'move',
    'put',
    'remove',
    'reset',
    'resetStores',
    'run',
    'set',
    'start',
    'toggle',
    'update',
    'when',
  ]);
});

const placeOf = (place: unknown) => (typeof place === 'string' ? place : 'middle');

test('the example uses every kind of type', () => {
  const kinds = new Set<string>();
  const visit = (type: Type, within = ''): void => {
    kinds.add(type.kind);
    if (type.kind === 'list') {
      if (type.key !== undefined) kinds.add('keyed list');
      if (type.bounds !== undefined) Object.keys(type.bounds).forEach((name) => kinds.add(name));
      if (within === 'list') kinds.add('nested list');
      visit(type.item, 'list');
    } else if (type.kind === 'map') visit(type.value);
    else if (type.kind === 'union') type.members.forEach((member) => visit(member));
    else if (type.kind === 'record')
      for (const field of type.fields) {
        if (field.optional) kinds.add('optional property');
        visit(field.type, 'record');
      }
    else if (type.kind === 'string' && type.bounds.format !== undefined) kinds.add('format');
    else if (type.kind === 'number' && type.integer) kinds.add('integer');
  };
  for (const { type } of ferry.types.values()) visit(type);
  for (const store of ferry.stores) {
    if (store.single) kinds.add('store of one value');
    for (const { type } of store.fields) visit(type);
    for (const { payload, acceptsText, payloadDefault } of store.actions) {
      if (payload !== undefined) visit(payload);
      if (acceptsText) kinds.add('payload as text');
      if (payloadDefault !== undefined) kinds.add('payload with a default');
    }
  }
  expect([...kinds]).toEqual(
    expect.arrayContaining([
      ...[
        'string',
        'number',
        'integer',
        'boolean',
        'null',
        'literal',
        'list',
        'keyed list',
        'nested list',
      ],
      ...['map', 'record', 'union', 'named', 'optional property', 'format', 'store of one value'],
      ...['minItems', 'maxItems', 'uniqueItems', 'payload as text', 'payload with a default'],
    ]),
  );
});
