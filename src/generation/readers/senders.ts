import { hasTasks, type Store } from '../../model/application.js';
import { code, data, doc, entry, joined, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { eagerStores } from '../shared/lazy-stores.js';
import type { Output } from '../shared/output.js';
import { publicName } from '../shared/public-types.js';
import { usedBy, type Style } from '../../base/styles.js';

/** Adds the file that gives the actions of all stores, ready to be called. */
export function addSenders(output: Output, style: Style): void {
  const module = output.moduleApart('senders', 'The actions of all stores, ready to be called.');
  const create = module.type('index', 'createStores');
  module.add(code`/** What 'createStores' gives. */
export type App = ReturnType<typeof ${create}>;`);
  if (usedBy[style] === 'dispatch') addBound(output, module);
  else addPicked(output, module);
}

const actionsOf = ({ actions, tasks }: Store): readonly string[] =>
  [...actions, ...tasks].map(({ name }) => name);

/** Where actions are members of the stores: the same stores, typed without what is read. */
function addPicked({ application }: Output, module: Module): void {
  const members = application.stores.flatMap((store): Code[] => {
    const names = joined(actionsOf(store).map(data), ' | ');
    if (actionsOf(store).length === 0) return [];
    const own = code`App["stores"][${data(store.name)}]`;
    const picked = store.lazy
      ? code`Pick<NonNullable<${own}>, ${names}> | null`
      : code`Pick<${own}, ${names}>`;
    return [code`readonly ${entry(store.name, picked)};`];
  });
  module.add(
    code`${doc('The actions and tasks of each store; null until a lazy one is attached.')}export interface Senders {\n${members}\n}`,
    code`${doc('The actions of an application, for components and for code outside of them.')}export const sendersOf = (app: App): Senders => app.stores;`,
  );
}

/** Where actions are dispatched: functions that do that. */
function addBound(output: Output, module: Module): void {
  const { application } = output;
  const creators = eagerStores(application)
    .filter((store) => actionsOf(store).length > 0)
    .map(({ name }) => entry(name, code`${module.value('index', `${name}Actions`)}`));
  module.add(
    code`const creators = {\n${creators.map((one) => code`${one},`)}\n};`,
    code`type Action = Parameters<App["dispatch"]>[0];`,
    code`type Creator = ((payload?: unknown) => Action) & { cancel?: (per?: unknown) => Action };`,
    ...senderType(output, module),
    code`${doc('The actions of each store that is there from the beginning, each dispatched when it is called.')}export type Senders = {
readonly [Store in keyof typeof creators]: {
readonly [Name in keyof (typeof creators)[Store]]: Sender<(typeof creators)[Store][Name]>;
};
};`,
    code`const known = new WeakMap<App, Senders>();`,
    code`function bound(app: App): Senders {
const sender = (create: Creator) => {
const { cancel } = create;
const send = (payload?: unknown) => app.dispatch(create(payload));
return cancel ? Object.assign(send, { cancel: (per?: unknown) => app.dispatch(cancel(per)) }) : send;
};
const bind = (own: object) => Object.fromEntries(Object.entries(own).map(([name, create]: [string, Creator]) => [name, sender(create)]));
return Object.fromEntries(Object.entries(creators).map(([store, own]) => [store, bind(own)])) as unknown as Senders;
}`,
    code`${doc('The actions of an application, for components and for code outside of them.')}export function sendersOf(app: App): Senders {
const senders = known.get(app) ?? bound(app);
known.set(app, senders);
return senders;
}`,
  );
}

/** How what makes an action becomes what sends it: the start of a task, with its cancelling, or another. */
function senderType(output: Output, module: Module): Code[] {
  const outcome = module.type('index', publicName(output, 'Outcome'));
  const plain = code`(...given: Given) => ${outcome}`;
  if (!hasTasks(output.application))
    return [
      code`type Sender<Create> = Create extends (...given: infer Given) => unknown ? ${plain} : never;`,
    ];
  const started = module.type('index', publicName(output, 'StartOutcome'));
  return [
    code`type Sender<Create> = Create extends ((...given: infer Given) => unknown) & { cancel: (...per: infer Per) => unknown } ? ((...given: Given) => ${started}) & { readonly cancel: (...per: Per) => ${outcome} } : Create extends (...given: infer Given) => unknown ? ${plain} : never;`,
  ];
}
